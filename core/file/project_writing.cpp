// A scene as the text of a project file.
#include <nlohmann/json.hpp>
#include <utility>

#include "core/base/json_text.h"
#include "core/file/project_file.h"
#include "core/scene/classes.h"
#include "core/scene/value.h"

namespace gswarm {
namespace {

using Json = nlohmann::ordered_json;

Json numberJson(double v) {
    if (v == std::floor(v) && std::abs(v) < 1e15) return static_cast<std::int64_t>(v);
    return v;
}

Json curveJson(const CurvePoints& curve) {
    Json list = Json::array();
    for (const auto& point : curve)
        list.push_back({numberJson(point.at), numberJson(point.value), numberJson(point.in), numberJson(point.out)});
    return list;
}

Json formulaJson(const Formula& formula) {
    Json names = Json::object();
    for (const auto& [name, address] : formula.names) names[name] = address;
    return Json{{"formula", formula.text}, {"names", names}};
}

/// A fixed number is just that; whatever moves is an object. Keys are [frame, value, ease, slope in, slope out].
Json trackJson(const Track& track) {
    if (track.formula) {
        Json json = formulaJson(*track.formula);
        json["value"] = numberJson(track.value);
        return json;
    }
    if (track.link) {
        const Link& link = *track.link;
        return Json{{"link", link.to},
                    {"from", {numberJson(link.fromLow), numberJson(link.fromHigh)}},
                    {"onto", {numberJson(link.toLow), numberJson(link.toHigh)}},
                    {"curve", curveJson(link.curve)},
                    {"clip", link.clip},
                    {"step", numberJson(link.step)},
                    {"delay", numberJson(link.delay)},
                    {"value", numberJson(track.value)}};
    }
    if (!track.keyed()) return numberJson(track.value);
    Json keys = Json::array();
    for (const Key& key : *track.keys)
        keys.push_back({numberJson(key.frame), numberJson(key.value), easeNames[static_cast<std::size_t>(key.ease)], numberJson(key.in),
                        numberJson(key.out)});
    const auto beyond = [](Beyond b) { return beyondNames[static_cast<std::size_t>(b)]; };
    return Json{{"keys", keys}, {"before", beyond(track.before)}, {"after", beyond(track.after)}};
}

}  // namespace

Json valueJson(const Value& value) {
    if (const auto* numbers = std::get_if<Numbers>(&value)) {
        if (numbers->size() == 1) return trackJson(numbers->front());
        Json list = Json::array();
        for (const Track& track : *numbers) list.push_back(trackJson(track));
        return list;
    }
    if (const auto* on = std::get_if<bool>(&value)) return *on;
    if (const auto* text = std::get_if<std::string>(&value)) return *text;
    if (const auto* object = std::get_if<ObjectId>(&value)) return *object ? Json(toText(*object)) : Json(nullptr);
    if (const auto* points = std::get_if<Points>(&value)) {
        Json list = Json::array();
        for (const auto& point : *points) list.push_back({numberJson(point[0]), numberJson(point[1]), numberJson(point[2])});
        return list;
    }
    if (const auto* curve = std::get_if<CurvePoints>(&value)) return curveJson(*curve);
    if (const auto* formula = std::get_if<Formula>(&value)) return formulaJson(*formula);
    Json stops = Json::array();
    for (const RampStop& stop : std::get<Ramp>(value)) {
        Json colour = Json::array();
        for (const double c : stop.colour) colour.push_back(numberJson(c));
        stops.push_back({{"at", numberJson(stop.at)}, {"colour", colour}});
    }
    return stops;
}

namespace {

void addUnknown(Json& json, const std::string& unknown) {
    if (unknown.empty()) return;
    const Json members = parsedJson(unknown);
    for (const auto& [key, value] : members.items()) json[key] = value;
}

}  // namespace

Json partJson(const Part& part) {
    Json json{{"kind", part.kind->id}, {"version", part.kind->version}};
    for (std::size_t i = 0; i < part.values.size(); ++i) json[part.kind->parameters[i].id] = valueJson(part.values[i]);
    addUnknown(json, part.unknown);
    return json;
}

namespace {

Json objectJson(const Scene& scene, ObjectId id) {
    const Object& object = scene.at(id);
    const ObjectClass& objectClass = classOf(id.type());
    Json json{{"id", toText(id)}, {"name", object.name}};
    if (object.group) json["inGroup"] = toText(object.group);
    for (std::size_t s = 0; s < object.parts.size(); ++s) json[objectClass.slotInfos[s].id] = partJson(object.parts[s]);
    for (std::size_t l = 0; l < object.lists.size(); ++l) {
        Json list = Json::array();
        for (const ObjectId child : object.lists[l]) list.push_back(objectJson(scene, child));
        json[objectClass.lists[l].id] = list;
    }
    addUnknown(json, object.unknown);
    return json;
}

/// Line breaks between objects and members, but short arrays and keys on one line, so that a diff reads well.
void write(const Json& json, int depth, std::string& out) {
    const auto flat = [](const Json& j) {
        if (!j.is_structured()) return true;
        for (const auto& item : j)
            if (item.is_object() || (item.is_array() && !item.empty() && item.front().is_structured())) return false;
        return j.is_array();
    };
    if (flat(json) || json.empty()) {
        out += jsonText(json);
        return;
    }
    const std::string indent(static_cast<std::size_t>(depth + 1), ' ');
    out += json.is_object() ? "{\n" : "[\n";
    bool first = true;
    for (const auto& [key, value] : json.items()) {
        if (!std::exchange(first, false)) out += ",\n";
        out += indent;
        if (json.is_object()) out += jsonText(key) + ": ";
        write(value, depth + 1, out);
    }
    out += "\n" + indent.substr(1) + (json.is_object() ? "}" : "]");
}

}  // namespace

std::string toJson(const Scene& scene) {
    Json json{{"format", "gilded-swarm"}, {"version", projectVersion}};
    for (const auto& objectClass : objectClasses()) {
        if (objectClass.plural.empty()) continue;
        Json list = Json::array();
        for (const ObjectId id : scene.all(objectClass.type)) list.push_back(objectJson(scene, id));
        json[objectClass.plural] = list;
    }
    addUnknown(json, scene.unknown);
    std::string out;
    write(json, 0, out);
    return out + "\n";
}

}  // namespace gswarm
