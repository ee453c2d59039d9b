#include "core/scene/address.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/base/error.h"
#include "core/base/text.h"

namespace gswarm {
namespace {

std::string_view componentLetters(const Parameter& p) { return p.type == ParameterType::colour ? "rgba" : "xyz"; }

std::string joined(const std::vector<Choice>& choices) {
    std::string out;
    for (const auto& choice : choices) out += (out.empty() ? "" : ", ") + choice.id;
    return out;
}

std::string plain(double v) {
    char text[32];
    const auto end = std::to_chars(text, text + sizeof text, v).ptr;
    return {text, end};
}

}  // namespace

ObjectId objectNamed(const Scene& scene, std::string_view text) {
    if (const ObjectId id = parseObjectId(text); id && scene.find(id)) return id;
    // Entries of lists are called after what they refer to, so things of their own come first.
    ObjectId found;
    int matches = 0;
    for (const ObjectId id : scene.order)
        if (scene.at(id).name == text) found = id, ++matches;
    if (matches == 0)
        for (const auto& [id, object] : scene.objects)
            if (object->name == text) found = id, ++matches;
    if (matches == 1) return found;
    const std::string quoted = "“" + std::string(text) + "”";
    throw Error(matches == 0 ? "There is no object " + quoted + " in the project; nothing was changed."
                             : "Several objects are called " + quoted + "; use the id that info --json shows.");
}

std::string toText(const Scene& scene, const Address& address) {
    const auto& slot = classOf(address.object.type()).slotInfos[static_cast<std::size_t>(address.slot)];
    const Parameter& p = parameterAt(scene, address);
    std::string text = toText(address.object) + "/" + slot.prefix + p.id;
    if (address.component >= 0 && p.components > 1) (text += '.') += componentLetters(p)[static_cast<std::size_t>(address.component)];
    return text;
}

Address addressOf(const Scene& scene, ObjectId id, std::string_view parameter, int component) {
    const Object& object = scene.at(id);
    const auto& infos = classOf(id.type()).slotInfos;
    for (std::size_t s = 0; s < infos.size(); ++s) {
        if (!parameter.starts_with(infos[s].prefix)) continue;
        const int index = object.parts[s].kind->indexOf(parameter.substr(infos[s].prefix.size()));
        if (index >= 0) return {id, static_cast<int>(s), index, component};
    }
    throw Error("“" + object.name + "” has no setting called “" + std::string(parameter) + "”.");
}

Address parseAddress(const Scene& scene, std::string_view text) {
    const auto slash = text.rfind('/');
    if (slash == std::string_view::npos)
        throw Error("“" + std::string(text) + "” is no address: write object/parameter, such as Swell/position.x.");
    const ObjectId id = objectNamed(scene, text.substr(0, slash));
    std::string_view parameter = text.substr(slash + 1);
    std::string_view letter;
    if (const auto dot = parameter.rfind('.'); dot != std::string_view::npos) {
        letter = parameter.substr(dot + 1);
        parameter = parameter.substr(0, dot);
    }
    Address address = addressOf(scene, id, parameter);
    const Parameter& p = parameterAt(scene, address);
    if (letter.empty()) return address;
    const auto at = componentLetters(p).substr(0, static_cast<std::size_t>(p.components)).find(letter);
    if (letter.size() != 1 || at == std::string_view::npos || p.components < 2)
        throw Error("“" + std::string(parameter) + "” has no component “" + std::string(letter) + "”.");
    address.component = static_cast<int>(at);
    return address;
}

bool exists(const Scene& scene, const Address& a) {
    const Object* object = scene.find(a.object);
    if (!object || a.slot < 0 || static_cast<std::size_t>(a.slot) >= object->parts.size()) return false;
    const Part& part = object->parts[static_cast<std::size_t>(a.slot)];
    if (a.parameter < 0 || static_cast<std::size_t>(a.parameter) >= part.values.size()) return false;
    return a.component < std::max(1, part.kind->parameters[static_cast<std::size_t>(a.parameter)].components);
}

namespace {

const Part& partAt(const Scene& scene, const Address& a) {
    if (!exists(scene, a)) throw Error("The setting is gone with what it belonged to; nothing was changed.");
    return scene.at(a.object).parts[static_cast<std::size_t>(a.slot)];
}

}  // namespace

const Parameter& parameterAt(const Scene& scene, const Address& a) {
    return partAt(scene, a).kind->parameters[static_cast<std::size_t>(a.parameter)];
}
const Value& valueOf(const Scene& scene, const Address& a) { return partAt(scene, a).values[static_cast<std::size_t>(a.parameter)]; }
const Numbers& numbersAt(const Scene& scene, const Address& a) {
    if (const auto* numbers = std::get_if<Numbers>(&valueOf(scene, a))) return *numbers;
    throw Error("“" + parameterAt(scene, a).label + "” of “" + scene.at(a.object).name +
                "” is not a number that can move; nothing was changed.");
}

namespace {

void checkLink(const Link& link, const std::string& where) {
    for (const double v : {link.fromLow, link.fromHigh, link.toLow, link.toHigh, link.delay, link.step})
        if (!(std::abs(v) <= 1e9)) throw Error(where + " has a link with a number that is not finite or beyond 10⁹.");
    if (link.step < 0) throw Error(where + " has a link that snaps to steps below 0.");
    if (link.curve.size() > mostCurvePoints) throw Error(where + " has a link whose curve has too many points.");
}

}  // namespace

void checkValue(const Parameter& p, const Value& value, const std::string& where) {
    const bool movedSwitch = p.type == ParameterType::toggle && std::holds_alternative<Numbers>(value);
    if (value.index() != p.standard.index() && !movedSwitch) throw Error(where + " has a value of the wrong type.");
    if (const auto* numbers = std::get_if<Numbers>(&value)) {
        if (static_cast<int>(numbers->size()) != (movedSwitch ? 1 : p.components))
            throw Error(where + " takes " + std::to_string(p.components) + " numbers.");
        const auto check = [&](double v) {
            if (!std::isfinite(v)) throw Error(where + " must be a finite number.");
            if (v < p.hard.low || v > p.hard.high)
                throw Error(where + " must lie between " + plain(p.hard.low) + " and " + plain(p.hard.high) + ", not " + plain(v) + ".");
        };
        for (const Track& track : *numbers) {
            if (track.moves() && p.still) throw Error(where + " has one value for the whole project and can't be keyed.");
            if (track.link) checkLink(*track.link, where);
            if (track.formula && (track.formula->text.size() > longestFormula || track.formula->names.size() > longestFormula))
                throw Error(where + " has a formula of more than " + std::to_string(longestFormula) + " characters.");
            if (!track.keyed()) {
                check(track.value);
                continue;
            }
            if (track.keys->size() > mostKeys) throw Error(where + " has more keys than the limit of " + std::to_string(mostKeys) + ".");
            for (std::size_t k = 0; k < track.keys->size(); ++k) {
                const Key& key = (*track.keys)[k];
                check(key.value);
                if (!(std::abs(key.in) <= 1e9 && std::abs(key.out) <= 1e9)) throw Error(where + " has a key with an impossible slope.");
                if (!std::isfinite(key.frame) || std::abs(key.frame) > 1e7) throw Error(where + " has a key at an impossible frame.");
                if (k > 0 && key.frame <= (*track.keys)[k - 1].frame)
                    throw Error(where + " has keys that are not in ascending order of frame.");
            }
        }
    } else if (const auto* text = std::get_if<std::string>(&value)) {
        if (!isUtf8(*text)) throw Error(where + " is not text in UTF-8.");
        const bool known =
            p.choices.empty() || std::any_of(p.choices.begin(), p.choices.end(), [&](const Choice& c) { return c.id == *text; });
        if (!known) throw Error(where + " is one of " + joined(p.choices) + ", not “" + *text + "”.");
    } else if (const auto* object = std::get_if<ObjectId>(&value)) {
        if (*object && std::find(p.references.begin(), p.references.end(), object->type()) == p.references.end())
            throw Error(where + " can't refer to that type of object.");
    } else if (const auto* points = std::get_if<Points>(&value)) {
        if (points->size() < 2 || points->size() > mostPoints)
            throw Error(where + " takes 2 to " + std::to_string(mostPoints) + " points.");
        for (const auto& point : *points)
            for (const double v : point)
                if (!(std::abs(v) <= 1e6)) throw Error(where + " has a point that is not finite or beyond 1000 km.");
    } else if (const auto* curve = std::get_if<CurvePoints>(&value)) {
        if (curve->size() < 2 || curve->size() > mostCurvePoints)
            throw Error(where + " takes 2 to " + std::to_string(mostCurvePoints) + " points.");
        double before = -1;
        for (const CurvePoint& point : *curve) {
            if (!(point.at > before && point.at >= 0 && point.at <= 1)) throw Error(where + " has points out of order or outside 0 … 1.");
            for (const double v : {point.value, point.in, point.out})
                if (!(std::abs(v) <= 1000)) throw Error(where + " has a point or a slope that is not finite or beyond 1000.");
            before = point.at;
        }
    } else if (const auto* formula = std::get_if<Formula>(&value)) {
        if (!isUtf8(formula->text)) throw Error(where + " is not text in UTF-8.");
        if (formula->text.size() > longestFormula) throw Error(where + " takes at most " + std::to_string(longestFormula) + " characters.");
    } else if (const auto* ramp = std::get_if<Ramp>(&value)) {
        if (ramp->empty() || ramp->size() > mostRampStops) throw Error(where + " takes 1 to " + std::to_string(mostRampStops) + " stops.");
        double before = 0;
        for (const RampStop& stop : *ramp) {
            if (!(stop.at >= before && stop.at <= 1)) throw Error(where + " has stops out of order or outside 0 … 1.");
            for (const double c : stop.colour)
                if (!(std::abs(c) <= 64)) throw Error(where + " has a colour that is not finite or beyond 64.");
            before = stop.at;
        }
    }
}

}  // namespace gswarm
