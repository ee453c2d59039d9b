#include "core/resolve/parse_value.h"

#include <algorithm>
#include <cmath>

#include "core/base/css_colour.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/formula/bind.h"
#include "core/formula/parse.h"
#include "core/resolve/typed_number.h"

namespace gswarm {
namespace {

/// Numbers with commas between, each typed as in a field of the window.
std::vector<double> splitNumbers(const Scene& scene, const Parameter& p, std::string_view text, const std::string& where) {
    const double rate = momentAt(scene, 0).rate;
    std::vector<double> parts;
    for (std::size_t start = 0; start <= text.size();) {
        const auto comma = std::min(text.find(',', start), text.size());
        const auto typed = text.substr(start, comma - start);
        const auto number = typedNumber(typed, p.unit, rate);
        if (!number) throw Error(where + " takes a number" + (p.unit.empty() ? "" : " in " + p.unit) + ", not " + quotedPiece(typed) + ".");
        parts.push_back(*number);
        start = comma + 1;
    }
    return parts;
}

/// A colour typed as CSS has it, with as many numbers as the setting has; empty if it is none.
std::vector<double> typedColour(const Parameter& p, std::string_view text) {
    const auto colour = p.type == ParameterType::colour ? cssColour(text) : std::nullopt;
    if (!colour) return {};
    std::vector<double> parts;
    for (int c = 0; c < p.components; ++c) parts.push_back(std::round((*colour)[c] * 1e6) / 1e6);
    return parts;
}

Formula formulaFrom(const Scene& scene, std::string_view typed, const std::string& where) {
    try {
        return boundFormula(scene, typed);
    } catch (const FormulaError& error) {
        throw Error(where + ": " + error.what() + " It stands at character " + std::to_string(error.place + 1) + " of “" +
                    std::string(typed) + "”.");
    }
}

}  // namespace

Value parseValue(const Scene& scene, const Address& address, std::string_view typed) {
    const Parameter& p = parameterAt(scene, address);
    const std::string where = "“" + p.label + "” of “" + scene.at(address.object).name + "”";
    Value value = p.type == ParameterType::toggle ? Value(false) : valueOf(scene, address);
    if (auto* numbers = std::get_if<Numbers>(&value); numbers && typed.starts_with('=')) {
        const auto formula = std::make_shared<const Formula>(formulaFrom(scene, typed.substr(1), where));
        for (std::size_t c = 0; c < numbers->size(); ++c)
            if (address.component < 0 || address.component == static_cast<int>(c)) {
                (*numbers)[c] = Track{(*numbers)[c].value};
                (*numbers)[c].formula = formula;
            }
    } else if (numbers) {
        std::vector<double> parts = address.component < 0 ? typedColour(p, typed) : std::vector<double>{};
        if (parts.empty()) parts = splitNumbers(scene, p, typed, where);
        const std::size_t wanted = address.component >= 0 ? 1 : numbers->size();
        if (parts.size() != wanted && parts.size() != 1)
            throw Error(where + " takes " + std::to_string(wanted) + " numbers, not " + std::to_string(parts.size()) + ".");
        for (std::size_t c = 0; c < numbers->size(); ++c)
            if (address.component < 0) (*numbers)[c] = {parts[std::min(c, parts.size() - 1)]};
        if (address.component >= 0) (*numbers)[static_cast<std::size_t>(address.component)] = {parts[0]};
    } else if (auto* on = std::get_if<bool>(&value)) {
        if (typed != "on" && typed != "off" && typed != "true" && typed != "false")
            throw Error(where + " is on or off, not “" + std::string(typed) + "”.");
        *on = typed == "on" || typed == "true";
    } else if (auto* object = std::get_if<ObjectId>(&value)) {
        *object = typed.empty() || typed == "none" ? ObjectId{} : objectNamed(scene, typed);
    } else if (auto* text = std::get_if<std::string>(&value)) {
        *text = typed;
    } else if (auto* points = std::get_if<Points>(&value)) {
        points->clear();
        for (std::size_t start = 0; start <= typed.size() && !typed.empty();) {  // x,y,z;x,y,z …
            const auto end = std::min(typed.find(';', start), typed.size());
            const auto place = splitNumbers(scene, p, typed.substr(start, end - start), where);
            if (place.size() != 3) throw Error(where + " takes points of three numbers: x,y,z;x,y,z …");
            points->push_back({place[0], place[1], place[2]});
            start = end + 1;
        }
    } else if (auto* formula = std::get_if<Formula>(&value)) {
        *formula = formulaFrom(scene, typed, where);
    } else {
        throw Error(where + " is a " + (p.type == ParameterType::curve ? "curve" : "ramp") +
                    "; it is edited in the window or in the project file.");
    }
    checkValue(p, value, where);
    return value;
}

}  // namespace gswarm
