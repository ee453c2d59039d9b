#pragma once
#include <pugixml.hpp>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace gswarm {

/// "fill: red; stroke: none" → pairs of a property and its value.
using Declarations = std::vector<std::pair<std::string, std::string>>;
Declarations declarationsIn(std::string_view text);

/// An element's name without the prefix of SVG's namespace: "svg:path" → "path".
std::string_view plainName(const pugi::xml_node& node);

/// The simple part of CSS that drawings use: rules for elements, .classes and #ids, also joined ("path.wave") and several
/// at once ("a, b"). Anything else (contexts, attributes, @rules) is counted and left out.
class StyleSheet {
  public:
    void add(std::string_view css);
    /// What the rules say about an element, weaker ones first.
    Declarations of(const pugi::xml_node& node) const;
    std::size_t leftOut() const { return leftOut_; }

  private:
    struct Rule {
        std::string element, id;
        std::vector<std::string> classes;
        int weight = 0;
        Declarations says;
    };
    void addRule(std::string_view selector, const Declarations& says);
    std::vector<Rule> rules_;
    std::size_t leftOut_ = 0;
};

}  // namespace gswarm
