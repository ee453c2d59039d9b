#include "core/base/css_colour.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <map>
#include <string>
#include <vector>

#include "core/base/text.h"

namespace gswarm {
namespace {

const std::map<std::string, unsigned, std::less<>>& named() {
    static const std::map<std::string, unsigned, std::less<>> names = {{"aliceblue", 0xF0F8FF},
                                                                       {"antiquewhite", 0xFAEBD7},
                                                                       {"aqua", 0x00FFFF},
                                                                       {"aquamarine", 0x7FFFD4},
                                                                       {"azure", 0xF0FFFF},
                                                                       {"beige", 0xF5F5DC},
                                                                       {"bisque", 0xFFE4C4},
                                                                       {"black", 0x000000},
                                                                       {"blanchedalmond", 0xFFEBCD},
                                                                       {"blue", 0x0000FF},
                                                                       {"blueviolet", 0x8A2BE2},
                                                                       {"brown", 0xA52A2A},
                                                                       {"burlywood", 0xDEB887},
                                                                       {"cadetblue", 0x5F9EA0},
                                                                       {"chartreuse", 0x7FFF00},
                                                                       {"chocolate", 0xD2691E},
                                                                       {"coral", 0xFF7F50},
                                                                       {"cornflowerblue", 0x6495ED},
                                                                       {"cornsilk", 0xFFF8DC},
                                                                       {"crimson", 0xDC143C},
                                                                       {"cyan", 0x00FFFF},
                                                                       {"darkblue", 0x00008B},
                                                                       {"darkcyan", 0x008B8B},
                                                                       {"darkgoldenrod", 0xB8860B},
                                                                       {"darkgray", 0xA9A9A9},
                                                                       {"darkgreen", 0x006400},
                                                                       {"darkgrey", 0xA9A9A9},
                                                                       {"darkkhaki", 0xBDB76B},
                                                                       {"darkmagenta", 0x8B008B},
                                                                       {"darkolivegreen", 0x556B2F},
                                                                       {"darkorange", 0xFF8C00},
                                                                       {"darkorchid", 0x9932CC},
                                                                       {"darkred", 0x8B0000},
                                                                       {"darksalmon", 0xE9967A},
                                                                       {"darkseagreen", 0x8FBC8F},
                                                                       {"darkslateblue", 0x483D8B},
                                                                       {"darkslategray", 0x2F4F4F},
                                                                       {"darkslategrey", 0x2F4F4F},
                                                                       {"darkturquoise", 0x00CED1},
                                                                       {"darkviolet", 0x9400D3},
                                                                       {"deeppink", 0xFF1493},
                                                                       {"deepskyblue", 0x00BFFF},
                                                                       {"dimgray", 0x696969},
                                                                       {"dimgrey", 0x696969},
                                                                       {"dodgerblue", 0x1E90FF},
                                                                       {"firebrick", 0xB22222},
                                                                       {"floralwhite", 0xFFFAF0},
                                                                       {"forestgreen", 0x228B22},
                                                                       {"fuchsia", 0xFF00FF},
                                                                       {"gainsboro", 0xDCDCDC},
                                                                       {"ghostwhite", 0xF8F8FF},
                                                                       {"gold", 0xFFD700},
                                                                       {"goldenrod", 0xDAA520},
                                                                       {"gray", 0x808080},
                                                                       {"green", 0x008000},
                                                                       {"greenyellow", 0xADFF2F},
                                                                       {"grey", 0x808080},
                                                                       {"honeydew", 0xF0FFF0},
                                                                       {"hotpink", 0xFF69B4},
                                                                       {"indianred", 0xCD5C5C},
                                                                       {"indigo", 0x4B0082},
                                                                       {"ivory", 0xFFFFF0},
                                                                       {"khaki", 0xF0E68C},
                                                                       {"lavender", 0xE6E6FA},
                                                                       {"lavenderblush", 0xFFF0F5},
                                                                       {"lawngreen", 0x7CFC00},
                                                                       {"lemonchiffon", 0xFFFACD},
                                                                       {"lightblue", 0xADD8E6},
                                                                       {"lightcoral", 0xF08080},
                                                                       {"lightcyan", 0xE0FFFF},
                                                                       {"lightgoldenrodyellow", 0xFAFAD2},
                                                                       {"lightgray", 0xD3D3D3},
                                                                       {"lightgreen", 0x90EE90},
                                                                       {"lightgrey", 0xD3D3D3},
                                                                       {"lightpink", 0xFFB6C1},
                                                                       {"lightsalmon", 0xFFA07A},
                                                                       {"lightseagreen", 0x20B2AA},
                                                                       {"lightskyblue", 0x87CEFA},
                                                                       {"lightslategray", 0x778899},
                                                                       {"lightslategrey", 0x778899},
                                                                       {"lightsteelblue", 0xB0C4DE},
                                                                       {"lightyellow", 0xFFFFE0},
                                                                       {"lime", 0x00FF00},
                                                                       {"limegreen", 0x32CD32},
                                                                       {"linen", 0xFAF0E6},
                                                                       {"magenta", 0xFF00FF},
                                                                       {"maroon", 0x800000},
                                                                       {"mediumaquamarine", 0x66CDAA},
                                                                       {"mediumblue", 0x0000CD},
                                                                       {"mediumorchid", 0xBA55D3},
                                                                       {"mediumpurple", 0x9370DB},
                                                                       {"mediumseagreen", 0x3CB371},
                                                                       {"mediumslateblue", 0x7B68EE},
                                                                       {"mediumspringgreen", 0x00FA9A},
                                                                       {"mediumturquoise", 0x48D1CC},
                                                                       {"mediumvioletred", 0xC71585},
                                                                       {"midnightblue", 0x191970},
                                                                       {"mintcream", 0xF5FFFA},
                                                                       {"mistyrose", 0xFFE4E1},
                                                                       {"moccasin", 0xFFE4B5},
                                                                       {"navajowhite", 0xFFDEAD},
                                                                       {"navy", 0x000080},
                                                                       {"oldlace", 0xFDF5E6},
                                                                       {"olive", 0x808000},
                                                                       {"olivedrab", 0x6B8E23},
                                                                       {"orange", 0xFFA500},
                                                                       {"orangered", 0xFF4500},
                                                                       {"orchid", 0xDA70D6},
                                                                       {"palegoldenrod", 0xEEE8AA},
                                                                       {"palegreen", 0x98FB98},
                                                                       {"paleturquoise", 0xAFEEEE},
                                                                       {"palevioletred", 0xDB7093},
                                                                       {"papayawhip", 0xFFEFD5},
                                                                       {"peachpuff", 0xFFDAB9},
                                                                       {"peru", 0xCD853F},
                                                                       {"pink", 0xFFC0CB},
                                                                       {"plum", 0xDDA0DD},
                                                                       {"powderblue", 0xB0E0E6},
                                                                       {"purple", 0x800080},
                                                                       {"rebeccapurple", 0x663399},
                                                                       {"red", 0xFF0000},
                                                                       {"rosybrown", 0xBC8F8F},
                                                                       {"royalblue", 0x4169E1},
                                                                       {"saddlebrown", 0x8B4513},
                                                                       {"salmon", 0xFA8072},
                                                                       {"sandybrown", 0xF4A460},
                                                                       {"seagreen", 0x2E8B57},
                                                                       {"seashell", 0xFFF5EE},
                                                                       {"sienna", 0xA0522D},
                                                                       {"silver", 0xC0C0C0},
                                                                       {"skyblue", 0x87CEEB},
                                                                       {"slateblue", 0x6A5ACD},
                                                                       {"slategray", 0x708090},
                                                                       {"slategrey", 0x708090},
                                                                       {"snow", 0xFFFAFA},
                                                                       {"springgreen", 0x00FF7F},
                                                                       {"steelblue", 0x4682B4},
                                                                       {"tan", 0xD2B48C},
                                                                       {"teal", 0x008080},
                                                                       {"thistle", 0xD8BFD8},
                                                                       {"tomato", 0xFF6347},
                                                                       {"turquoise", 0x40E0D0},
                                                                       {"violet", 0xEE82EE},
                                                                       {"wheat", 0xF5DEB3},
                                                                       {"white", 0xFFFFFF},
                                                                       {"whitesmoke", 0xF5F5F5},
                                                                       {"yellow", 0xFFFF00},
                                                                       {"yellowgreen", 0x9ACD32}};
    return names;
}

glm::vec4 fromBytes(unsigned r, unsigned g, unsigned b, unsigned a) { return glm::vec4(r, g, b, a) / 255.0f; }

std::optional<glm::vec4> fromHex(std::string_view digits) {
    unsigned v = 0;
    const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), v, 16);
    if (error != std::errc() || end != digits.data() + digits.size()) return std::nullopt;
    switch (digits.size()) {
        case 3:
            return fromBytes((v >> 8 & 15) * 17, (v >> 4 & 15) * 17, (v & 15) * 17, 255);
        case 4:
            return fromBytes((v >> 12 & 15) * 17, (v >> 8 & 15) * 17, (v >> 4 & 15) * 17, (v & 15) * 17);
        case 6:
            return fromBytes(v >> 16 & 255, v >> 8 & 255, v & 255, 255);
        case 8:
            return fromBytes(v >> 24 & 255, v >> 16 & 255, v >> 8 & 255, v & 255);
        default:
            return std::nullopt;
    }
}

/// The numbers between a function's brackets; percents as shares of `whole[i]`.
std::optional<std::vector<double>> arguments(std::string_view text, const double* whole) {
    const auto open = text.find('('), close = text.find(')');
    if (open == std::string_view::npos || close == std::string_view::npos || close < open) return std::nullopt;
    std::string inside(text.substr(open + 1, close - open - 1));
    for (char& c : inside)
        if (c == ',' || c == '/') c = ' ';
    std::vector<double> out;
    for (std::string_view word : wordsOf(inside)) {
        const bool percent = word.ends_with('%');
        if (percent) word.remove_suffix(1);
        if (word.ends_with("deg")) word.remove_suffix(3);
        const auto number = numberIn(word);
        if (!number || out.size() == 4) return std::nullopt;
        out.push_back(percent ? *number / 100 * whole[out.size()] : *number);
    }
    if (out.size() < 3) return std::nullopt;
    return out;
}

glm::vec4 fromHsl(double hue, double saturation, double lightness, double alpha) {
    const auto channel = [&](double n) {
        const double k = std::fmod(n + hue / 30, 12), a = saturation * std::min(lightness, 1 - lightness);
        return static_cast<float>(lightness - a * std::max(-1.0, std::min({k - 3, 9 - k, 1.0})));
    };
    return {channel(0), channel(8), channel(4), static_cast<float>(alpha)};
}

}  // namespace

std::optional<glm::vec4> cssColour(std::string_view typed) {
    const std::string text = lowered(trimmed(typed));
    if (text.starts_with('#')) return fromHex(std::string_view(text).substr(1));
    if (text.starts_with("rgb")) {
        static constexpr double whole[] = {255, 255, 255, 1};
        const auto n = arguments(text, whole);
        if (!n) return std::nullopt;
        const auto channel = [&](std::size_t i) { return static_cast<float>(std::round(std::clamp((*n)[i], 0.0, 255.0)) / 255); };
        return glm::vec4(channel(0), channel(1), channel(2), n->size() > 3 ? static_cast<float>(std::clamp((*n)[3], 0.0, 1.0)) : 1.0f);
    }
    if (text.starts_with("hsl")) {
        static constexpr double whole[] = {360, 1, 1, 1};
        const auto n = arguments(text, whole);
        if (!n || !(std::abs((*n)[0]) < 1e9)) return std::nullopt;
        const double hue = std::fmod(std::fmod((*n)[0], 360) + 360, 360);
        return fromHsl(hue, std::clamp((*n)[1], 0.0, 1.0), std::clamp((*n)[2], 0.0, 1.0),
                       n->size() > 3 ? std::clamp((*n)[3], 0.0, 1.0) : 1);
    }
    const auto found = named().find(text);
    if (found == named().end()) return std::nullopt;
    return fromBytes(found->second >> 16, found->second >> 8 & 255, found->second & 255, 255);
}

}  // namespace gswarm
