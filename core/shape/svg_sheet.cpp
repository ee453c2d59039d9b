#include "core/shape/svg_sheet.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/base/text.h"

namespace gswarm {
namespace {

constexpr std::size_t mostRules = 1000;

std::string withoutComments(std::string_view css) {
    std::string out;
    while (!css.empty()) {
        const auto start = css.find("/*");
        out += css.substr(0, start);
        if (start == std::string_view::npos) break;
        const auto end = css.find("*/", start + 2);
        css.remove_prefix(end == std::string_view::npos ? css.size() : end + 2);
    }
    return out;
}

}  // namespace

Declarations declarationsIn(std::string_view text) {
    Declarations out;
    while (!text.empty()) {
        const auto end = std::min(text.find(';'), text.size());
        const std::string_view entry = text.substr(0, end);
        if (const auto colon = entry.find(':'); colon != std::string_view::npos) {
            std::string_view value = trimmed(entry.substr(colon + 1));
            if (const auto important = value.find('!'); important != std::string_view::npos) value = trimmed(value.substr(0, important));
            out.emplace_back(trimmed(entry.substr(0, colon)), value);
        }
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return out;
}

std::string_view plainName(const pugi::xml_node& node) {
    const std::string_view name = node.name();
    return name.starts_with("svg:") ? name.substr(4) : name;
}

void StyleSheet::add(std::string_view css) {
    const std::string plain = withoutComments(css);
    std::string_view text = plain;
    for (;;) {
        text = trimmed(text);
        // What old pages hide style sheets in.
        if (text.starts_with("<!--")) text.remove_prefix(4);
        if (text.starts_with("-->")) text.remove_prefix(3);
        if (text.starts_with('@')) {
            ++leftOut_;
            const auto end = text.find_first_of(";{");
            if (end == std::string_view::npos) return;
            if (text[end] == ';') {
                text.remove_prefix(end + 1);
                continue;
            }
            int depth = 0;
            std::size_t at = end;
            for (; at < text.size(); ++at) {
                depth += text[at] == '{' ? 1 : text[at] == '}' ? -1 : 0;
                if (depth == 0) break;
            }
            text.remove_prefix(std::min(at + 1, text.size()));
            continue;
        }
        const auto open = text.find('{');
        if (open == std::string_view::npos) return;
        const auto close = std::min(text.find('}', open), text.size());
        const Declarations says = declarationsIn(text.substr(open + 1, close - open - 1));
        std::string_view selectors = text.substr(0, open);
        while (!selectors.empty()) {
            const auto end = std::min(selectors.find(','), selectors.size());
            addRule(trimmed(selectors.substr(0, end)), says);
            selectors.remove_prefix(std::min(end + 1, selectors.size()));
        }
        text.remove_prefix(std::min(close + 1, text.size()));
    }
}

void StyleSheet::addRule(std::string_view selector, const Declarations& says) {
    if (rules_.size() >= mostRules) throw Error("has a style sheet of more rules than the limit of 1000");
    if (selector.empty() || selector.find_first_of(" \t\r\n>+~[:") != std::string_view::npos) {
        ++leftOut_;
        return;
    }
    Rule rule{{}, {}, {}, 0, says};
    while (!selector.empty()) {
        const auto end = std::min(selector.find_first_of(".#", 1), selector.size());
        const std::string_view part = selector.substr(0, end);
        if (part[0] == '.') {
            rule.classes.emplace_back(part.substr(1));
            rule.weight += 100;
        } else if (part[0] == '#') {
            rule.id = std::string(part.substr(1));
            rule.weight += 10'000;
        } else if (part != "*") {
            rule.element = std::string(part);
            rule.weight += 1;
        }
        selector.remove_prefix(end);
    }
    const auto at = std::upper_bound(rules_.begin(), rules_.end(), rule.weight, [](int w, const Rule& r) { return w < r.weight; });
    rules_.insert(at, std::move(rule));
}

Declarations StyleSheet::of(const pugi::xml_node& node) const {
    Declarations out;
    if (rules_.empty()) return out;
    const std::string_view name = plainName(node), id = node.attribute("id").value();
    const auto classes = wordsOf(node.attribute("class").value());
    for (const Rule& rule : rules_) {
        if (!rule.element.empty() && rule.element != name) continue;
        if (!rule.id.empty() && rule.id != id) continue;
        if (!std::all_of(rule.classes.begin(), rule.classes.end(),
                         [&](const std::string& c) { return std::find(classes.begin(), classes.end(), c) != classes.end(); }))
            continue;
        out.insert(out.end(), rule.says.begin(), rule.says.end());
    }
    return out;
}

}  // namespace gswarm
