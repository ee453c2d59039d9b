#include "core/scene/kind.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace gswarm {

int Kind::indexOf(std::string_view parameter) const {
    for (std::size_t i = 0; i < parameters.size(); ++i)
        if (parameters[i].id == parameter) return static_cast<int>(i);
    return -1;
}

const Value& Part::operator[](std::string_view parameter) const {
    const int index = kind->indexOf(parameter);
    if (index < 0) throw std::logic_error("no parameter " + std::string(parameter) + " in " + kind->id);
    return values[static_cast<std::size_t>(index)];
}

Part standardPart(const Kind& kind) {
    Part part{&kind, {}, {}};
    for (const auto& parameter : kind.parameters) part.values.push_back(parameter.standard);
    return part;
}

bool applies(const Parameter& parameter, const Part& part) {
    return std::all_of(parameter.when.begin(), parameter.when.end(), [&](const Condition& condition) {
        const Parameter& asked = part.kind->parameters[static_cast<std::size_t>(part.kind->indexOf(condition.parameter))];
        if (!applies(asked, part)) return true;
        const Value& value = part[condition.parameter];
        const std::string state = std::holds_alternative<std::string>(value) ? std::get<std::string>(value)
                                                                             : (switchOf(part, condition.parameter) ? "on" : "off");
        return std::find(condition.choices.begin(), condition.choices.end(), state) != condition.choices.end();
    });
}

const std::string& choiceOf(const Part& part, std::string_view parameter) { return std::get<std::string>(part[parameter]); }
bool switchOf(const Part& part, std::string_view parameter) {
    const Value& value = part[parameter];
    const auto* on = std::get_if<bool>(&value);
    return !on || *on;
}
ObjectId referenceOf(const Part& part, std::string_view parameter) { return std::get<ObjectId>(part[parameter]); }

double linearFromSrgb(double e) {
    const double size = std::abs(e);
    return std::copysign(size <= 0.04045 ? size / 12.92 : std::pow((size + 0.055) / 1.055, 2.4), e);
}
double srgbFromLinear(double l) {
    const double size = std::abs(l);
    return std::copysign(size <= 0.0031308 ? size * 12.92 : 1.055 * std::pow(size, 1 / 2.4) - 0.055, l);
}

namespace {

Resolved resolveValue(const Parameter& parameter, const Value& value, const NumberOf& numberOf, ContentHash& hash) {
    Resolved out;
    if (parameter.type == ParameterType::toggle) {
        const auto* on = std::get_if<bool>(&value);
        out.on = on ? *on : numberOf(std::get<Numbers>(value).front()) >= 0.5;
        hash.add(std::uint64_t{out.on});
    } else if (const auto* numbers = std::get_if<Numbers>(&value)) {
        for (std::size_t c = 0; c < numbers->size() && c < 4; ++c) {
            double v = numberOf((*numbers)[c]);
            if (parameter.type == ParameterType::whole) v = std::round(v);
            out.number[c] = std::clamp(v, parameter.hard.low, parameter.hard.high);
            hash.add(out.number[c]);
            if (parameter.type == ParameterType::angle) out.number[c] *= 3.14159265358979323846 / 180;
            if (parameter.type == ParameterType::colour && c < 3) out.number[c] = linearFromSrgb(out.number[c]);
        }
    } else if (const auto* text = std::get_if<std::string>(&value)) {
        out.text = *text;
        hash.add(*text);
        for (std::size_t i = 0; i < parameter.choices.size(); ++i)
            if (parameter.choices[i].id == *text) out.choice = static_cast<int>(i);
    } else if (const auto* object = std::get_if<ObjectId>(&value)) {
        out.object = *object;
        hash.add(object->bits);
    } else if (const auto* points = std::get_if<Points>(&value)) {
        out.points = *points;
        for (const auto& point : *points)
            for (const double v : point) hash.add(v);
    } else if (const auto* curve = std::get_if<CurvePoints>(&value)) {
        out.curve = *curve;
        for (const auto& point : *curve)
            for (const double v : {point.at, point.value, point.in, point.out}) hash.add(v);
    } else if (const auto* formula = std::get_if<Formula>(&value)) {
        out.formula = *formula;
        hash.add(formula->text);
        for (const auto& [name, address] : formula->names) hash.add(address);
    } else {
        out.ramp = std::get<Ramp>(value);
        for (auto& stop : out.ramp) {
            hash.add(stop.at);
            for (double& c : stop.colour) hash.add(c);
            for (int c = 0; c < 3; ++c) stop.colour[c] = linearFromSrgb(stop.colour[c]);
        }
    }
    return out;
}

}  // namespace

ResolvedPart resolvedWith(const Part& part, const NumberOf& numberOf) {
    ContentHash hash;
    hash.add(part.kind->id);
    ResolvedPart out{part.kind, part.kind->create(), 0};
    for (std::size_t i = 0; i < part.values.size(); ++i) {
        const auto& parameter = part.kind->parameters[i];
        parameter.assign(out.data.get(), resolveValue(parameter, part.values[i], numberOf, hash));
    }
    out.hash = hash.value();
    return out;
}

double nearestLaps(double perLoop) {
    const double rounded = std::round(perLoop);
    return rounded != 0 ? rounded : perLoop < 0 ? -1 : 1;
}

std::string lapsInWords(double count) {
    return std::to_string(static_cast<long long>(count)) + (std::abs(count) == 1 ? " whole lap a loop" : " whole laps a loop");
}

}  // namespace gswarm
