#include "core/shape/svg.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <map>
#include <pugixml.hpp>

#include "core/base/error.h"
#include "core/shape/svg_path.h"

namespace gswarm {
namespace {

using glm::dvec2;

constexpr int mostDepth = 64;
constexpr std::size_t mostPoints = 2'000'000;

/// x' = a x + c y + e, y' = b x + d y + f.
struct Affine {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    dvec2 operator()(const dvec2& p) const { return {a * p.x + c * p.y + e, b * p.x + d * p.y + f}; }
    Affine operator*(const Affine& o) const {
        return {a * o.a + c * o.b, b * o.a + d * o.b, a * o.c + c * o.d, b * o.c + d * o.d, a * o.e + c * o.f + e, b * o.e + d * o.f + f};
    }
    double scale() const { return std::sqrt(std::abs(a * d - b * c)); }
};

std::vector<double> numbersIn(std::string_view text) {
    std::vector<double> out;
    while (!text.empty()) {
        double v = 0;
        const std::string_view digits = text[0] == '+' ? text.substr(1) : text;
        const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), v);
        if (error == std::errc() && std::isfinite(v)) {
            out.push_back(v);
            text.remove_prefix(static_cast<std::size_t>(end - text.data()));
        } else {
            text.remove_prefix(1);
        }
    }
    return out;
}

Affine transformFrom(std::string_view text) {
    Affine all;
    while (true) {
        const auto open = text.find('('), close = text.find(')');
        if (open == std::string_view::npos || close == std::string_view::npos || close < open) return all;
        std::string_view name = text.substr(0, open);
        name.remove_prefix(std::min(name.find_first_not_of(" ,\t\r\n"), name.size()));
        name = name.substr(0, name.find_last_not_of(" \t\r\n") + 1);
        const auto n = numbersIn(text.substr(open + 1, close - open - 1));
        const auto at = [&](std::size_t i, double otherwise) { return i < n.size() ? n[i] : otherwise; };
        Affine one;
        if (name == "matrix" && n.size() == 6) {
            one = {n[0], n[1], n[2], n[3], n[4], n[5]};
        } else if (name == "translate") {
            one.e = at(0, 0), one.f = at(1, 0);
        } else if (name == "scale") {
            one.a = at(0, 1), one.d = at(1, one.a);
        } else if (name == "rotate") {
            const double r = at(0, 0) * 0.017453292519943295, c = std::cos(r), s = std::sin(r), x = at(1, 0), y = at(2, 0);
            one = {c, s, -s, c, x - c * x + s * y, y - s * x - c * y};
        } else if (name == "skewX") {
            one.c = std::tan(at(0, 0) * 0.017453292519943295);
        } else if (name == "skewY") {
            one.b = std::tan(at(0, 0) * 0.017453292519943295);
        }
        all = all * one;
        text.remove_prefix(close + 1);
    }
}

/// What a group hands down to what is in it.
struct Style {
    std::string fill = "black", stroke = "none", colour = "black";
    double opacity = 1, fillOpacity = 1, strokeOpacity = 1, strokeWidth = 1, miterLimit = 4;
    FillRule rule = FillRule::nonZero;
    StrokeJoin join = StrokeJoin::miter;
    StrokeCap cap = StrokeCap::butt;
    bool shown = true;
};

const std::map<std::string, unsigned>& namedColours() {
    static const std::map<std::string, unsigned> names = {
        {"black", 0x000000},        {"white", 0xFFFFFF},     {"red", 0xFF0000},       {"green", 0x008000},     {"blue", 0x0000FF},
        {"yellow", 0xFFFF00},       {"cyan", 0x00FFFF},      {"aqua", 0x00FFFF},      {"magenta", 0xFF00FF},   {"fuchsia", 0xFF00FF},
        {"gray", 0x808080},         {"grey", 0x808080},      {"silver", 0xC0C0C0},    {"maroon", 0x800000},    {"olive", 0x808000},
        {"lime", 0x00FF00},         {"teal", 0x008080},      {"navy", 0x000080},      {"purple", 0x800080},    {"orange", 0xFFA500},
        {"gold", 0xFFD700},         {"pink", 0xFFC0CB},      {"brown", 0xA52A2A},     {"coral", 0xFF7F50},     {"crimson", 0xDC143C},
        {"indigo", 0x4B0082},       {"ivory", 0xFFFFF0},     {"khaki", 0xF0E68C},     {"salmon", 0xFA8072},    {"sienna", 0xA0522D},
        {"tan", 0xD2B48C},          {"tomato", 0xFF6347},    {"turquoise", 0x40E0D0}, {"violet", 0xEE82EE},    {"beige", 0xF5F5DC},
        {"darkblue", 0x00008B},     {"darkgreen", 0x006400}, {"darkred", 0x8B0000},   {"lightblue", 0xADD8E6}, {"lightgray", 0xD3D3D3},
        {"lightgrey", 0xD3D3D3},    {"skyblue", 0x87CEEB},   {"steelblue", 0x4682B4}, {"slategray", 0x708090}, {"seagreen", 0x2E8B57},
        {"midnightblue", 0x191970}, {"goldenrod", 0xDAA520}, {"peru", 0xCD853F}};
    return names;
}

struct DrawingReader {
    SvgDrawing drawing;
    int curveSteps;
    std::string name;
    std::size_t points = 0;
    std::map<std::string, int> leftOut;
    bool otherPaint = false;

    [[noreturn]] void refuse(const std::string& what) const { throw Error("“" + name + "” " + what + " The project is as it was."); }

    bool colourFrom(const std::string& text, const Style& style, glm::vec4& out) {
        if (text == "none" || text == "transparent") return false;
        if (text == "currentColor") return colourFrom(style.colour == "currentColor" ? "black" : style.colour, style, out);
        unsigned rgb = 0x808080;
        if (text.starts_with('#')) {
            unsigned v = 0;
            const auto end = std::from_chars(text.data() + 1, text.data() + text.size(), v, 16).ptr;
            const auto digits = end - text.data() - 1;
            if (digits == 3) rgb = (v >> 8 & 15) * 0x110000 + (v >> 4 & 15) * 0x1100 + (v & 15) * 0x11;
            if (digits == 6) rgb = v;
        } else if (text.starts_with("rgb")) {
            const auto n = numbersIn(std::string_view(text).substr(3));
            const double unit = text.find('%') != std::string::npos ? 2.55 : 1;
            rgb = 0;
            for (std::size_t i = 0; i < 3; ++i)
                rgb = rgb << 8 | static_cast<unsigned>(std::lround(std::clamp(i < n.size() ? n[i] * unit : 0, 0.0, 255.0)));
        } else if (const auto found = namedColours().find(text); found != namedColours().end()) {
            rgb = found->second;
        } else {
            otherPaint = true;
        }
        out = glm::vec4(rgb >> 16 & 255, rgb >> 8 & 255, rgb & 255, 255.0f) / 255.0f;
        return true;
    }

    void setStyle(Style& style, std::string_view key, const std::string& value) {
        const auto number = [&](double otherwise) {
            const auto n = numbersIn(value);
            return n.empty() ? otherwise : n[0] * (value.find('%') != std::string::npos ? 0.01 : 1);
        };
        if (value == "inherit") return;
        if (key == "fill") style.fill = value;
        if (key == "stroke") style.stroke = value;
        if (key == "color") style.colour = value;
        if (key == "opacity") style.opacity *= std::clamp(number(1), 0.0, 1.0);
        if (key == "fill-opacity") style.fillOpacity = std::clamp(number(1), 0.0, 1.0);
        if (key == "stroke-opacity") style.strokeOpacity = std::clamp(number(1), 0.0, 1.0);
        if (key == "stroke-width") style.strokeWidth = std::max(0.0, number(1));
        if (key == "stroke-miterlimit") style.miterLimit = std::clamp(number(4), 1.0, 100.0);
        if (key == "fill-rule") style.rule = value == "evenodd" ? FillRule::evenOdd : FillRule::nonZero;
        if (key == "stroke-linejoin")
            style.join = value == "round" ? StrokeJoin::round : value == "bevel" ? StrokeJoin::bevel : StrokeJoin::miter;
        if (key == "stroke-linecap")
            style.cap = value == "round" ? StrokeCap::round : value == "square" ? StrokeCap::square : StrokeCap::butt;
        if ((key == "display" && value == "none") || (key == "visibility" && value != "visible")) style.shown = false;
    }

    Style styleOf(const pugi::xml_node& node, Style style) {
        for (const auto& attribute : node.attributes()) setStyle(style, attribute.name(), attribute.value());
        std::string_view list = node.attribute("style").value();
        while (!list.empty()) {
            const auto end = std::min(list.find(';'), list.size());
            const std::string_view entry = list.substr(0, end);
            if (const auto colon = entry.find(':'); colon != std::string_view::npos) {
                const auto trimmed = [](std::string_view t) {
                    const auto first = t.find_first_not_of(" \t\r\n"), last = t.find_last_not_of(" \t\r\n");
                    return first == std::string_view::npos ? std::string_view() : t.substr(first, last - first + 1);
                };
                setStyle(style, trimmed(entry.substr(0, colon)), std::string(trimmed(entry.substr(colon + 1))));
            }
            list.remove_prefix(std::min(end + 1, list.size()));
        }
        return style;
    }

    static double length(const pugi::xml_node& node, const char* attribute) {
        const auto n = numbersIn(node.attribute(attribute).value());
        return n.empty() ? 0 : n[0];
    }

    /// A basic shape as path data, so that there is one way to draw.
    std::string pathData(const pugi::xml_node& node) {
        const std::string_view kind = node.name();
        const auto text = [](std::initializer_list<double> v) {
            std::string out;
            for (const double x : v) {
                char digits[32];
                out += ' ' + std::string(digits, std::to_chars(digits, digits + sizeof digits, x).ptr);
            }
            return out;
        };
        const auto ellipse = [&](double x, double y, double rx, double ry) {
            if (rx <= 0 || ry <= 0) return std::string();
            return "M" + text({x - rx, y}) + "A" + text({rx, ry, 0, 1, 1, x + rx, y}) + "A" + text({rx, ry, 0, 1, 1, x - rx, y}) + "Z";
        };
        if (kind == "path") return node.attribute("d").value();
        if (kind == "circle") return ellipse(length(node, "cx"), length(node, "cy"), length(node, "r"), length(node, "r"));
        if (kind == "ellipse") return ellipse(length(node, "cx"), length(node, "cy"), length(node, "rx"), length(node, "ry"));
        if (kind == "line")
            return "M" + text({length(node, "x1"), length(node, "y1")}) + "L" + text({length(node, "x2"), length(node, "y2")});
        if (kind == "polyline" || kind == "polygon")
            return std::string("M") + node.attribute("points").value() + (kind == "polygon" ? "Z" : "");
        const double x = length(node, "x"), y = length(node, "y"), w = length(node, "width"), h = length(node, "height");
        if (w <= 0 || h <= 0) return {};
        double rx = node.attribute("rx") ? length(node, "rx") : length(node, "ry"), ry = node.attribute("ry") ? length(node, "ry") : rx;
        rx = std::clamp(rx, 0.0, w / 2), ry = std::clamp(ry, 0.0, h / 2);
        if (rx == 0 || ry == 0) return "M" + text({x, y}) + "H" + text({x + w}) + "V" + text({y + h}) + "H" + text({x}) + "Z";
        const auto corner = [&](double cx, double cy) { return "A" + text({rx, ry, 0, 0, 1, cx, cy}); };
        return "M" + text({x + rx, y}) + "H" + text({x + w - rx}) + corner(x + w, y + ry) + "V" + text({y + h - ry}) +
               corner(x + w - rx, y + h) + "H" + text({x + rx}) + corner(x, y + h - ry) + "V" + text({y + ry}) + corner(x + rx, y) + "Z";
    }

    void draw(const pugi::xml_node& node, const Style& style, const Affine& transform) {
        std::vector<bool> closed;
        FlatContours lines = readSvgPath(pathData(node), curveSteps, closed);
        for (auto& line : lines) {
            points += line.size();
            for (auto& p : line) p = transform(p);
        }
        if (points > mostPoints) refuse("draws more than two million points; simplify it.");
        SvgItem item;
        if (glm::vec4 colour; colourFrom(style.fill, style, colour)) {
            colour.w = static_cast<float>(style.opacity * style.fillOpacity);
            item.area = {lines, style.rule, colour};
            std::erase_if(item.area.contours, [](const auto& c) { return c.size() < 3; });
        }
        if (glm::vec4 colour; style.strokeWidth > 0 && colourFrom(style.stroke, style, colour)) {
            colour.w = static_cast<float>(style.opacity * style.strokeOpacity);
            item.stroke = {lines, closed, {style.strokeWidth * transform.scale(), style.join, style.cap, style.miterLimit}, colour};
        }
        if (!item.area.contours.empty() || !item.stroke.lines.empty()) drawing.items.push_back(std::move(item));
    }

    void read(const pugi::xml_node& parent, const Style& style, const Affine& transform, int depth) {
        if (depth > mostDepth) refuse("is nested too deeply.");
        for (const auto& node : parent.children()) {
            if (node.type() != pugi::node_element) continue;
            const std::string kind = node.name();
            const Style own = styleOf(node, style);
            if (!own.shown) continue;
            const Affine placed = transform * transformFrom(node.attribute("transform").value());
            if (kind == "g" || kind == "a" || kind == "svg" || kind == "switch")
                read(node, own, placed, depth + 1);
            else if (kind == "path" || kind == "rect" || kind == "circle" || kind == "ellipse" || kind == "line" || kind == "polyline" ||
                     kind == "polygon")
                draw(node, own, placed);
            else if (kind == "text" || kind == "image" || kind == "use" || kind == "foreignObject" || kind == "style")
                ++leftOut[kind];
        }
    }
};

std::string told(const std::map<std::string, int>& leftOut, bool otherPaint) {
    static const std::map<std::string, std::pair<const char*, const char*>> words = {
        {"text", {"text", "texts"}},
        {"image", {"picture", "pictures"}},
        {"use", {"repeated part", "repeated parts"}},
        {"foreignObject", {"foreign object", "foreign objects"}},
        {"style", {"style sheet", "style sheets"}}};
    std::string out;
    for (const auto& [kind, count] : leftOut) {
        const auto& word = words.at(kind);
        out += (out.empty() ? "" : ", ") + std::to_string(count) + " " + (count == 1 ? word.first : word.second);
    }
    if (otherPaint) out += std::string(out.empty() ? "" : ", ") + "gradients and patterns (grey instead)";
    return out;
}

}  // namespace

SvgDrawing readSvg(const std::string& text, const std::string& nameForPeople, int curveSteps) {
    DrawingReader reader{{}, curveSteps, nameForPeople, 0, {}, false};
    pugi::xml_document document;
    // Entities are not expanded beyond the five of XML, and nothing outside is fetched.
    if (!document.load_buffer(text.data(), text.size(), pugi::parse_default, pugi::encoding_auto))
        reader.refuse("is damaged or no SVG drawing.");
    const pugi::xml_node root = document.child("svg");
    if (!root) reader.refuse("is no SVG drawing.");
    const auto box = numbersIn(root.attribute("viewBox").value());
    reader.drawing.width = box.size() == 4 ? box[2] : DrawingReader::length(root, "width");
    reader.drawing.height = box.size() == 4 ? box[3] : DrawingReader::length(root, "height");
    Affine upright;
    upright.d = -1;
    reader.read(root, reader.styleOf(root, {}), upright, 0);
    reader.drawing.leftOut = told(reader.leftOut, reader.otherPaint);
    return std::move(reader.drawing);
}

}  // namespace gswarm
