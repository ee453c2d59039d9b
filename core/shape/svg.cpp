#include "core/shape/svg.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <glm/common.hpp>
#include <map>
#include <pugixml.hpp>

#include "core/base/css_colour.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/shape/svg_dashes.h"
#include "core/shape/svg_path.h"
#include "core/shape/svg_sheet.h"
#include "core/shape/svg_units.h"

namespace gswarm {
namespace {

using glm::dvec2;

constexpr int mostDepth = 64;
constexpr std::size_t mostPoints = 2'000'000, mostElements = 500'000;

/// What a group hands down to what is in it.
struct Style {
    std::string fill = "black", stroke = "none", colour = "black", dashes = "none", dashOffset = "0", strokeWidth = "1";
    double opacity = 1, fillOpacity = 1, strokeOpacity = 1, miterLimit = 4;
    FillRule rule = FillRule::nonZero, clipRule = FillRule::nonZero;
    StrokeJoin join = StrokeJoin::miter;
    StrokeCap cap = StrokeCap::butt;
    bool visible = true;
    // Of one element alone, not handed down.
    bool displayed = true;
    double ownOpacity = 1;
    std::string clip = {}, transform = {};
    bool overflows = false, masked = false, filtered = false, marked = false;
};

/// Where a drawing's percents and units are measured, and what cuts it.
struct Place {
    Affine transform;
    dvec2 viewport;
    std::vector<std::shared_ptr<const SvgClip>> clips = {};

    double diagonal() const { return std::sqrt((viewport.x * viewport.x + viewport.y * viewport.y) / 2); }
};

bool drawable(std::string_view kind) {
    static constexpr std::string_view kinds[] = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"};
    return std::find(std::begin(kinds), std::end(kinds), kind) != std::end(kinds);
}

/// "url(#sun) red" → "sun".
std::string_view referenceIn(std::string_view text) {
    const auto open = text.find("url("), close = text.find(')');
    if (open == std::string_view::npos || close == std::string_view::npos || close < open) return {};
    text = trimmed(text.substr(open + 4, close - open - 4));
    if (text.size() >= 2 && (text.front() == '"' || text.front() == '\'')) text = text.substr(1, text.size() - 2);
    return text.starts_with('#') ? text.substr(1) : std::string_view();
}

class DrawingReader {
  public:
    DrawingReader(const pugi::xml_node& root, int curveSteps) : curveSteps_(curveSteps) { collect(root, 0); }

    SvgDrawing read(const pugi::xml_node& root) {
        const auto box = svgNumbers(root.attribute("viewBox").value());
        const dvec2 page = box.size() == 4 ? dvec2(box[2], box[3]) : dvec2(100, 100);
        const dvec2 size(svgLength(root.attribute("width").value(), page.x, page.x),
                         svgLength(root.attribute("height").value(), page.y, page.y));
        drawing_.width = box.size() == 4 ? box[2] : size.x;
        drawing_.height = box.size() == 4 ? box[3] : size.y;
        Place place{{}, {drawing_.width, drawing_.height}};
        // The whole is scaled to a width by its shape; only a stretch is the drawing's own.
        if (box.size() == 4 && std::string_view(root.attribute("preserveAspectRatio").value()).find("none") != std::string_view::npos &&
            size.x > 0 && size.y > 0)
            place.transform.a = size.x / size.y * box[3] / box[2];
        place.transform = Affine{1, 0, 0, -1, 0, 0} * place.transform;
        children(root, styleOf(root, {}), place, 0);
        tell();
        return std::move(drawing_);
    }

  private:
    void collect(const pugi::xml_node& parent, int depth) {
        if (depth > mostDepth) throw Error("is nested too deeply");
        for (const auto& node : parent.children()) {
            if (node.type() != pugi::node_element) continue;
            if (++elements_ > mostElements) throw Error("has more elements than the limit of 500 000; simplify it");
            if (const auto id = node.attribute("id")) byId_.try_emplace(id.value(), node);
            if (plainName(node) == "style")
                for (const auto& text : node.children()) sheet_.add(text.value());
            collect(node, depth + 1);
        }
    }
    pugi::xml_node referred(std::string_view id) const {
        const auto found = byId_.find(id);
        return found == byId_.end() ? pugi::xml_node() : found->second;
    }

    // ---- style

    static void set(Style& style, std::string_view key, const std::string& value) {
        if (value == "inherit") return;
        const auto share = [&] { return std::clamp(svgLength(value, 1, 1), 0.0, 1.0); };
        if (key == "fill") style.fill = value;
        if (key == "stroke") style.stroke = value;
        if (key == "color") style.colour = value;
        if (key == "opacity") style.ownOpacity = share();
        if (key == "fill-opacity") style.fillOpacity = share();
        if (key == "stroke-opacity") style.strokeOpacity = share();
        if (key == "stroke-width") style.strokeWidth = value;
        if (key == "stroke-dasharray") style.dashes = value;
        if (key == "stroke-dashoffset") style.dashOffset = value;
        if (key == "stroke-miterlimit") style.miterLimit = std::clamp(svgLength(value, 1, 4), 1.0, 100.0);
        if (key == "fill-rule") style.rule = value == "evenodd" ? FillRule::evenOdd : FillRule::nonZero;
        if (key == "clip-rule") style.clipRule = value == "evenodd" ? FillRule::evenOdd : FillRule::nonZero;
        if (key == "stroke-linejoin")
            style.join = value == "round" ? StrokeJoin::round : value == "bevel" ? StrokeJoin::bevel : StrokeJoin::miter;
        if (key == "stroke-linecap")
            style.cap = value == "round" ? StrokeCap::round : value == "square" ? StrokeCap::square : StrokeCap::butt;
        if (key == "display") style.displayed = value != "none";
        if (key == "visibility") style.visible = value == "visible";
        if (key == "clip-path") style.clip = value;
        if (key == "transform") style.transform = value;
        if (key == "overflow") style.overflows = value == "visible" || value == "auto";
        if (key == "mask") style.masked = value != "none";
        if (key == "filter") style.filtered = value != "none";
        if (key.starts_with("marker")) style.marked = value != "none";
    }

    Style styleOf(const pugi::xml_node& node, Style style) const {
        style.displayed = true;
        style.ownOpacity = 1;
        style.clip.clear();
        style.transform.clear();
        style.overflows = style.masked = style.filtered = false;
        for (const auto& attribute : node.attributes()) set(style, attribute.name(), attribute.value());
        for (const auto& [key, value] : sheet_.of(node)) set(style, key, value);
        for (const auto& [key, value] : declarationsIn(node.attribute("style").value())) set(style, key, value);
        style.opacity *= style.ownOpacity;
        return style;
    }

    /// The colour of the stop nearest the middle of a gradient, which may lend its stops from another one.
    std::optional<glm::vec4> middleOf(pugi::xml_node gradient, int depth) const {
        std::optional<glm::vec4> colour;
        double nearest = 2;
        for (const auto& stop : gradient.children()) {
            if (plainName(stop) != "stop") continue;
            std::string typed = "black", opacity = "1";
            const auto take = [&](std::string_view key, const std::string& value) {
                if (key == "stop-color") typed = value;
                if (key == "stop-opacity") opacity = value;
            };
            for (const auto& attribute : stop.attributes()) take(attribute.name(), attribute.value());
            for (const auto& [key, value] : sheet_.of(stop)) take(key, value);
            for (const auto& [key, value] : declarationsIn(stop.attribute("style").value())) take(key, value);
            const double away = std::abs(svgLength(stop.attribute("offset").value(), 1, 0) - 0.5);
            if (away >= nearest) continue;
            nearest = away;
            colour = cssColour(typed).value_or(glm::vec4(0.5f, 0.5f, 0.5f, 1));
            colour->w *= static_cast<float>(std::clamp(svgLength(opacity, 1, 1), 0.0, 1.0));
        }
        if (colour || depth > 8) return colour;
        std::string_view lent = gradient.attribute("href").value();
        if (lent.empty()) lent = gradient.attribute("xlink:href").value();
        return lent.starts_with('#') ? middleOf(referred(lent.substr(1)), depth + 1) : std::nullopt;
    }

    /// The colour of a fill or stroke; none where nothing is painted.
    std::optional<glm::vec4> paint(const std::string& text, const Style& style) {
        if (text == "none" || text == "transparent") return std::nullopt;
        if (text == "currentColor" || text == "currentcolor") return paint(style.colour == text ? "black" : style.colour, style);
        if (const auto id = referenceIn(text); !id.empty() || text.starts_with("url(")) {
            const pugi::xml_node server = referred(id);
            if (server) {
                if (plainName(server) != "pattern")
                    if (const auto colour = middleOf(server, 0)) {
                        ++gradients_;
                        return colour;
                    }
                ++patterns_;
                return glm::vec4(0.5f, 0.5f, 0.5f, 1);
            }
            const auto close = text.find(')');
            const std::string fallback(close == std::string::npos ? "" : trimmed(std::string_view(text).substr(close + 1)));
            return fallback.empty() ? std::nullopt : paint(fallback, style);
        }
        if (const auto colour = cssColour(text)) return colour->w > 0 ? colour : std::nullopt;
        ++strange_;
        return glm::vec4(0.5f, 0.5f, 0.5f, 1);
    }

    // ---- lines

    static double length(const pugi::xml_node& node, const char* attribute, double whole) {
        return svgLength(node.attribute(attribute).value(), whole, 0);
    }

    /// A basic shape as path data, so that there is one way to draw.
    static std::string pathData(const pugi::xml_node& node, const Place& place) {
        const std::string_view kind = plainName(node);
        const auto text = [](std::initializer_list<double> v) {
            std::string out;
            for (const double x : v) {
                char digits[32];
                out += ' ' + std::string(digits, std::to_chars(digits, digits + sizeof digits, x).ptr);
            }
            return out;
        };
        const auto x = [&](const char* name) { return length(node, name, place.viewport.x); };
        const auto y = [&](const char* name) { return length(node, name, place.viewport.y); };
        const auto ellipse = [&](double rx, double ry) {
            if (!(rx > 0 && ry > 0)) return std::string();
            const double cx = x("cx"), cy = y("cy");
            return "M" + text({cx - rx, cy}) + "A" + text({rx, ry, 0, 1, 1, cx + rx, cy}) + "A" + text({rx, ry, 0, 1, 1, cx - rx, cy}) +
                   "Z";
        };
        if (kind == "path") return node.attribute("d").value();
        if (kind == "circle") return ellipse(length(node, "r", place.diagonal()), length(node, "r", place.diagonal()));
        if (kind == "ellipse") return ellipse(x("rx"), y("ry"));
        if (kind == "line") return "M" + text({x("x1"), y("y1")}) + "L" + text({x("x2"), y("y2")});
        if (kind == "polyline" || kind == "polygon")
            return std::string("M") + node.attribute("points").value() + (kind == "polygon" ? "Z" : "");
        const double left = x("x"), top = y("y"), w = x("width"), h = y("height");
        if (!(w > 0 && h > 0)) return {};
        double rx = node.attribute("rx") ? x("rx") : y("ry"), ry = node.attribute("ry") ? y("ry") : rx;
        rx = std::clamp(rx, 0.0, w / 2), ry = std::clamp(ry, 0.0, h / 2);
        const double right = left + w, bottom = top + h;
        if (rx == 0 || ry == 0) return "M" + text({left, top}) + "H" + text({right}) + "V" + text({bottom}) + "H" + text({left}) + "Z";
        const auto corner = [&](double cx, double cy) { return "A" + text({rx, ry, 0, 0, 1, cx, cy}); };
        return "M" + text({left + rx, top}) + "H" + text({right - rx}) + corner(right, top + ry) + "V" + text({bottom - ry}) +
               corner(right - rx, bottom) + "H" + text({left + rx}) + corner(left, bottom - ry) + "V" + text({top + ry}) +
               corner(left + rx, top) + "Z";
    }

    SvgLines linesOf(const pugi::xml_node& node, const Place& place) {
        SvgLines lines = readSvgPath(pathData(node, place), curveSteps_, mostPoints - points_);
        if (lines.damaged) ++damaged_;
        for (const auto& line : lines.lines) points_ += line.size();
        return lines;
    }

    static FlatContours moved(FlatContours lines, const Affine& transform) {
        for (auto& line : lines)
            for (auto& p : line) p = transform(p);
        return lines;
    }

    // ---- clipping

    /// What a clip path lets through, drawn with the transform of what it cuts.
    std::shared_ptr<const SvgClip> clipOf(const pugi::xml_node& path, const Affine& transform, const Place& place, int depth) {
        auto clip = std::make_shared<SvgClip>();
        const Style style = styleOf(path, {});
        addClip(path, style, {transform * svgTransform(style.transform), place.viewport}, depth, *clip);
        return clip;
    }
    void addClip(const pugi::xml_node& parent, const Style& style, const Place& place, int depth, SvgClip& to) {
        if (depth > mostDepth) throw Error("is nested too deeply");
        for (const auto& node : parent.children()) {
            if (node.type() != pugi::node_element) continue;
            const Style own = styleOf(node, style);
            const std::string_view kind = plainName(node);
            if (!own.displayed || !own.visible) continue;
            if (drawable(kind)) {
                const SvgLines lines = linesOf(node, place);
                to.push_back({moved(lines.lines, place.transform * svgTransform(own.transform)), own.clipRule, {}});
                std::erase_if(to.back().contours, [](const auto& c) { return c.size() < 3; });
            } else if (kind == "use" || kind == "text") {
                ++leftOut_[std::string(kind)];
            }
        }
    }

    /// The place of an element with what its own clip path cuts added.
    void cut(const pugi::xml_node& node, const Style& style, Place& place, int depth) {
        const std::string_view id = referenceIn(style.clip);
        if (id.empty()) return;
        const pugi::xml_node path = referred(id);
        if (!path || plainName(path) != "clipPath") return;
        Affine transform = place.transform;
        if (std::string_view(path.attribute("clipPathUnits").value()) == "objectBoundingBox") {
            if (!drawable(plainName(node))) {
                ++boxClips_;
                return;
            }
            dvec2 low(1e300), high(-1e300);
            for (const auto& line : linesOf(node, place).lines)
                for (const auto& p : line) low = glm::min(low, p), high = glm::max(high, p);
            if (!(high.x > low.x && high.y > low.y)) return;
            transform = transform * Affine{high.x - low.x, 0, 0, high.y - low.y, low.x, low.y};
        }
        place.clips.push_back(clipOf(path, transform, place, depth));
        // A clip path may itself be clipped.
        if (depth < mostDepth) {
            Place of = place;
            const Style own = styleOf(path, {});
            if (own.clip != style.clip && !own.clip.empty()) {
                cut(path, own, of, depth + 8);
                place.clips = of.clips;
            }
        }
    }

    // ---- elements

    void draw(const pugi::xml_node& node, const Style& style, const Place& place) {
        const SvgLines lines = linesOf(node, place);
        SvgItem item;
        item.clips = place.clips;
        if (auto colour = paint(style.fill, style)) {
            colour->w *= static_cast<float>(style.opacity * style.fillOpacity);
            item.area = {moved(lines.lines, place.transform), style.rule, *colour};
            std::erase_if(item.area.contours, [](const auto& c) { return c.size() < 3; });
        }
        const double width = std::max(0.0, svgLength(style.strokeWidth, place.diagonal(), 1));
        if (auto colour = width > 0 ? paint(style.stroke, style) : std::nullopt) {
            colour->w *= static_cast<float>(style.opacity * style.strokeOpacity);
            SvgLines drawn = lines;
            if (style.dashes != "none") {
                std::vector<double> pattern;
                std::string separated = style.dashes;
                std::replace(separated.begin(), separated.end(), ',', ' ');
                for (const std::string_view word : wordsOf(separated)) pattern.push_back(svgLength(word, place.diagonal(), -1));
                if (!pattern.empty())
                    drawn = dashed(lines, pattern, svgLength(style.dashOffset, place.diagonal(), 0), mostPoints - points_);
                for (const auto& line : drawn.lines) points_ += line.size();
            }
            item.stroke = {moved(drawn.lines, place.transform),
                           drawn.closed,
                           {width * place.transform.scale(), style.join, style.cap, style.miterLimit},
                           *colour};
        }
        if (!item.area.contours.empty() || !item.stroke.lines.empty()) drawing_.items.push_back(std::move(item));
    }

    /// A drawing in the drawing: a place of its own that cuts what goes beyond it.
    Place inner(const pugi::xml_node& node, const Style& style, const Place& outer) const {
        const dvec2 at(length(node, "x", outer.viewport.x), length(node, "y", outer.viewport.y));
        const dvec2 size(svgLength(node.attribute("width").value(), outer.viewport.x, outer.viewport.x),
                         svgLength(node.attribute("height").value(), outer.viewport.y, outer.viewport.y));
        const auto box = svgNumbers(node.attribute("viewBox").value());
        Place place = outer;
        place.transform = outer.transform * svgFit(box, node.attribute("preserveAspectRatio").value(), at, size);
        place.viewport = box.size() == 4 ? dvec2(box[2], box[3]) : size;
        if (style.overflows) return place;
        FlatContours edge{{at, {at.x + size.x, at.y}, at + size, {at.x, at.y + size.y}}};
        place.clips.push_back(std::make_shared<SvgClip>(SvgClip{{moved(std::move(edge), outer.transform), FillRule::nonZero, {}}}));
        return place;
    }

    void children(const pugi::xml_node& parent, const Style& style, const Place& place, int depth) {
        if (depth > mostDepth) throw Error("is nested too deeply");
        const bool first = plainName(parent) == "switch";
        for (const auto& node : parent.children()) {
            if (node.type() != pugi::node_element) continue;
            const std::string_view kind = plainName(node);
            if (first && (node.attribute("requiredExtensions") || kind == "foreignObject")) continue;
            element(node, kind, style, place, depth);
            if (first) return;
        }
    }

    void element(const pugi::xml_node& node, std::string_view kind, const Style& style, const Place& outer, int depth) {
        const Style own = styleOf(node, style);
        if (!own.displayed) return;
        const bool group = kind == "g" || kind == "a" || kind == "svg" || kind == "switch";
        if (!group && !drawable(kind)) {
            if (own.visible && (kind == "text" || kind == "image" || kind == "use" || kind == "foreignObject"))
                ++leftOut_[std::string(kind)];
            return;
        }
        masks_ += own.masked ? 1 : 0;
        filters_ += own.filtered ? 1 : 0;
        Place place = outer;
        place.transform = outer.transform * svgTransform(own.transform);
        cut(node, own, place, depth);
        if (group) return children(node, own, kind == "svg" ? inner(node, own, place) : place, depth + 1);
        if (!own.visible) return;
        markers_ += own.marked ? 1 : 0;
        draw(node, own, place);
    }

    void tell() {
        static const std::map<std::string, std::pair<const char*, const char*>> words = {
            {"text", {"text", "texts"}},
            {"image", {"picture", "pictures"}},
            {"use", {"repeated part", "repeated parts"}},
            {"foreignObject", {"foreign object", "foreign objects"}}};
        auto& told = drawing_.leftOut;
        for (const auto& [kind, count] : leftOut_)
            told.push_back(counted(static_cast<std::size_t>(count), words.at(kind).first, words.at(kind).second));
        const auto add = [&](std::size_t count, const char* one, const char* several) {
            if (count > 0) told.push_back(counted(count, one, several));
        };
        add(masks_, "mask", "masks");
        add(filters_, "filter", "filters");
        add(markers_, "marker", "markers");
        add(boxClips_, "clip path in shares of a group", "clip paths in shares of groups");
        add(sheet_.leftOut(), "rule of a style sheet", "rules of style sheets");
        add(damaged_, "end of a damaged path", "ends of damaged paths");
        add(gradients_, "gradient (the colour of its middle instead)", "gradients (the colour of their middle instead)");
        add(patterns_, "pattern (grey instead)", "patterns (grey instead)");
        add(strange_, "unknown colour (grey instead)", "unknown colours (grey instead)");
    }

    SvgDrawing drawing_;
    int curveSteps_;
    std::size_t points_ = 0, elements_ = 0;
    StyleSheet sheet_;
    std::map<std::string, pugi::xml_node, std::less<>> byId_;
    std::map<std::string, int> leftOut_;
    std::size_t gradients_ = 0, patterns_ = 0, strange_ = 0, damaged_ = 0, masks_ = 0, filters_ = 0, markers_ = 0, boxClips_ = 0;
};

}  // namespace

SvgDrawing readSvg(const std::string& text, int curveSteps) {
    pugi::xml_document document;
    // Entities are not expanded beyond the five of XML, and nothing outside is fetched.
    if (!document.load_buffer(text.data(), text.size(), pugi::parse_default, pugi::encoding_auto))
        throw Error("is damaged or no SVG drawing");
    for (const auto& root : document.children())
        if (root.type() == pugi::node_element && plainName(root) == "svg") return DrawingReader(root, curveSteps).read(root);
    throw Error("is no SVG drawing");
}

}  // namespace gswarm
