#include "core/file/project_file.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <nlohmann/json.hpp>
#include <set>
#include <tuple>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/json_depth.h"
#include "core/base/json_text.h"
#include "core/base/text.h"
#include "core/file/migrate.h"
#include "core/kinds/registry.h"
#include "core/resolve/soundness.h"
#include "core/scene/address.h"

namespace gswarm {
namespace {

using Json = nlohmann::ordered_json;

constexpr std::uintmax_t mostBytes = 1u << 30;
constexpr int mostDepth = 256;

struct Reader {
    std::string file;
    Scene scene;

    [[noreturn]] void refuse(const std::string& what) const { throw Error("“" + file + "” can't be opened: " + what); }

    const Json& member(const Json& json, const std::string& key, const std::string& where) const {
        if (!json.is_object()) refuse(where + " is not an object.");
        const auto found = json.find(key);
        if (found == json.end()) refuse(where + " has no “" + key + "”.");
        return *found;
    }

    /// Nothing that a value does not know would be kept, so nothing of that kind may be there.
    void only(const Json& json, std::initializer_list<const char*> known, const std::string& where) const {
        for (const auto& item : json.items())
            if (std::none_of(known.begin(), known.end(), [&](const char* k) { return item.key() == k; }))
                refuse(where + " has an unknown “" + item.key() + "”.");
    }

    double numberFrom(const Json& json, const std::string& where) const {
        if (!json.is_number()) refuse(where + " is not a number.");
        return json.get<double>();
    }

    /// Which of some names a text is.
    template <class Names>
    std::size_t oneOf(const Names& names, const Json& json, const std::string& where, const char* what) const {
        const auto found = std::find(names.begin(), names.end(), json.is_string() ? json.get<std::string>() : "");
        if (found == names.end()) refuse(where + " has an unknown " + what + ".");
        return static_cast<std::size_t>(found - names.begin());
    }

    CurvePoints curveFrom(const Json& json, const std::string& where) const {
        if (!json.is_array() || json.size() > mostCurvePoints) refuse(where + " is not a list of curve points.");
        CurvePoints curve;
        for (const Json& item : json) {
            if (!item.is_array() || item.size() != 4) refuse(where + " has a curve point that is not [at, value, in, out].");
            curve.push_back(
                {numberFrom(item[0], where), numberFrom(item[1], where), numberFrom(item[2], where), numberFrom(item[3], where)});
        }
        return curve;
    }

    Formula formulaFrom(const Json& json, const std::string& where) const {
        const Json& text = member(json, "formula", where);
        only(json, {"formula", "names", "value"}, where);
        const Json& names = member(json, "names", where);
        if (!text.is_string() || !names.is_object() || names.size() > 1000) refuse(where + " is not a formula with its names.");
        Formula formula{text.get<std::string>(), {}};
        for (const auto& [name, address] : names.items()) {
            if (!address.is_string()) refuse(where + " has a name without an address.");
            formula.names.push_back({name, address.get<std::string>()});
        }
        return formula;
    }

    std::pair<double, double> pairFrom(const Json& json, const std::string& where) const {
        if (!json.is_array() || json.size() != 2) refuse(where + " has a range that is not [low, high].");
        return {numberFrom(json[0], where), numberFrom(json[1], where)};
    }

    Link linkFrom(const Json& json, const std::string& where) const {
        Link link;
        const Json& to = member(json, "link", where);
        only(json, {"link", "from", "onto", "curve", "clip", "step", "delay", "value"}, where);
        const Json& clip = member(json, "clip", where);
        if (!to.is_string() || !clip.is_boolean()) refuse(where + " is not a proper link.");
        link.to = to.get<std::string>();
        link.clip = clip.get<bool>();
        std::tie(link.fromLow, link.fromHigh) = pairFrom(member(json, "from", where), where);
        std::tie(link.toLow, link.toHigh) = pairFrom(member(json, "onto", where), where);
        link.curve = curveFrom(member(json, "curve", where), where);
        link.step = numberFrom(member(json, "step", where), where);
        link.delay = numberFrom(member(json, "delay", where), where);
        return link;
    }

    std::vector<Key> keysFrom(const Json& list, const std::string& where) const {
        if (!list.is_array() || list.empty() || list.size() > mostKeys)
            refuse(where + " has no list of keys, 1 to " + std::to_string(mostKeys) + " of them.");
        std::vector<Key> keys;
        for (const Json& item : list) {
            if (!item.is_array() || item.size() != 5) refuse(where + " has a key that is not [frame, value, ease, in, out].");
            Key key{numberFrom(item[0], where), numberFrom(item[1], where), static_cast<Ease>(oneOf(easeNames, item[2], where, "ease"))};
            key.in = numberFrom(item[3], where), key.out = numberFrom(item[4], where);
            keys.push_back(key);
        }
        return keys;
    }

    Track trackFrom(const Json& json, const std::string& where) const {
        if (json.is_number()) return Track{json.get<double>()};
        Track track;
        if (json.is_object() && (json.contains("formula") || json.contains("link"))) {
            track.value = numberFrom(member(json, "value", where), where);
            if (json.contains("link"))
                track.link = std::make_shared<const Link>(linkFrom(json, where));
            else
                track.formula = std::make_shared<const Formula>(formulaFrom(json, where));
            return track;
        }
        std::vector<Key> keys = keysFrom(member(json, "keys", where), where);
        only(json, {"keys", "before", "after"}, where);
        track.value = keys.front().value;
        track.keys = std::make_shared<const std::vector<Key>>(std::move(keys));
        track.before = static_cast<Beyond>(oneOf(beyondNames, member(json, "before", where), where, "way to go on before its keys"));
        track.after = static_cast<Beyond>(oneOf(beyondNames, member(json, "after", where), where, "way to go on after its keys"));
        return track;
    }

    Value valueFrom(const Parameter& p, const Json& json, const std::string& where) const {
        Value value = p.standard;
        if (auto* numbers = std::get_if<Numbers>(&value)) {
            if (p.components == 1) {
                (*numbers)[0] = trackFrom(json, where);
            } else {
                if (!json.is_array() || json.size() != numbers->size())
                    refuse(where + " is not a list of " + std::to_string(p.components) + " numbers.");
                for (std::size_t c = 0; c < numbers->size(); ++c) (*numbers)[c] = trackFrom(json[c], where);
            }
        } else if (auto* on = std::get_if<bool>(&value); on && json.is_object()) {
            value = Numbers{trackFrom(json, where)};
        } else if (on) {
            if (!json.is_boolean()) refuse(where + " is not true or false.");
            *on = json.get<bool>();
        } else if (auto* text = std::get_if<std::string>(&value)) {
            if (!json.is_string()) refuse(where + " is not a text.");
            *text = json.get<std::string>();
        } else if (auto* object = std::get_if<ObjectId>(&value)) {
            *object = {};
            if (!json.is_null()) {
                *object = parseObjectId(json.is_string() ? json.get<std::string>() : "");
                if (!*object) refuse(where + " is not an object's id.");
            }
        } else if (auto* points = std::get_if<Points>(&value)) {
            if (!json.is_array() || json.size() > mostPoints) refuse(where + " is not a list of points.");
            points->clear();
            for (const Json& item : json) {
                if (!item.is_array() || item.size() != 3) refuse(where + " has a point that is not [x, y, z].");
                points->push_back({numberFrom(item[0], where), numberFrom(item[1], where), numberFrom(item[2], where)});
            }
        } else if (auto* curve = std::get_if<CurvePoints>(&value)) {
            *curve = curveFrom(json, where);
        } else if (auto* formula = std::get_if<Formula>(&value)) {
            *formula = formulaFrom(json, where);
            if (json.contains("value")) refuse(where + " has an unknown “value”.");
        } else {
            if (!json.is_array()) refuse(where + " is not a list of stops.");
            Ramp ramp;
            for (const Json& item : json) {
                RampStop stop{numberFrom(member(item, "at", where), where), {}};
                const Json& colour = member(item, "colour", where);
                only(item, {"at", "colour"}, where);
                if (!colour.is_array() || colour.size() != 4) refuse(where + " has a stop without four colour numbers.");
                for (std::size_t c = 0; c < 4; ++c) stop.colour[c] = numberFrom(colour[c], where);
                ramp.push_back(stop);
                if (ramp.size() > mostRampStops) break;
            }
            value = std::move(ramp);
        }
        try {
            checkValue(p, value, where);
        } catch (const Error& error) {
            refuse(error.what());
        }
        return value;
    }

    Part partFrom(const SlotInfo& slot, const Json& json, const std::string& where) const {
        const Json& kindJson = member(json, "kind", where);
        if (!kindJson.is_string()) refuse(where + " has a kind that is not a text.");
        const std::string id = kindJson.get<std::string>();
        const Kind* kind = findKind(slot.family, id);
        if (!kind || (slot.only && slot.only != kind)) refuse(where + " is of the kind “" + id + "”, which this version does not know.");
        const Json& version = member(json, "version", where);
        if (!version.is_number_integer() || version.get<std::int64_t>() != kind->version)
            refuse(where + " has a version of “" + id + "” that this program does not know; open it with a newer Gilded Swarm.");
        Part part = standardPart(*kind);
        Json unknown = Json::object();
        for (const auto& [key, value] : json.items()) {
            const int index = kind->indexOf(key);
            if (index >= 0)
                part.values[static_cast<std::size_t>(index)] =
                    valueFrom(kind->parameters[static_cast<std::size_t>(index)], value, where + ", “" + key + "”,");
            else if (key != "kind" && key != "version")
                unknown[key] = value;
        }
        for (const Parameter& p : kind->parameters) member(json, p.id, where);
        if (!unknown.empty()) part.unknown = jsonText(unknown);
        return part;
    }

    ObjectId objectFrom(ObjectType type, const Json& json) {
        const ObjectClass& objectClass = classOf(type);
        const std::string what = "a " + objectClass.id;
        const Json& idJson = member(json, "id", what);
        const ObjectId id = parseObjectId(idJson.is_string() ? idJson.get<std::string>() : "");
        if (!id || id.type() != type) refuse(what + " has an id that is none.");
        if (scene.objects.contains(id)) refuse("the id " + toText(id) + " is used twice.");
        if (scene.objects.size() >= mostObjects) refuse("it has more things than the limit of " + std::to_string(mostObjects) + ".");
        const Json& name = member(json, "name", what);
        if (!name.is_string() || characterCount(name.get<std::string>()) > longestName) refuse(what + " has no proper name.");
        auto object = std::make_shared<Object>();
        object->id = id;
        object->name = name.get<std::string>();
        scene.objects[id] = object;
        std::set<std::string> known{"id", "name", "inGroup"};
        if (const auto group = json.find("inGroup"); group != json.end()) {
            object->group = parseObjectId(group->is_string() ? group->get<std::string>() : "");
            if (object->group.type() != ObjectType::group) refuse(what + " stands in a group that is none.");
        }
        for (const auto& slot : objectClass.slotInfos) {
            const std::string where = objectClass.label + " “" + object->name + "”, " + slot.id;
            object->parts.push_back(partFrom(slot, member(json, slot.id, where), where));
            known.insert(slot.id);
        }
        for (std::size_t l = 0; l < objectClass.lists.size(); ++l) {
            const ListInfo& list = objectClass.lists[l];
            object->lists.emplace_back();
            known.insert(list.id);
            const Json& children = member(json, list.id, objectClass.label + " “" + object->name + "”");
            if (!children.is_array()) refuse("“" + list.id + "” of “" + object->name + "” is not a list.");
            for (const Json& child : children) {
                const ObjectId made = objectFrom(list.child, child);
                object->lists[l].push_back(made);
            }
        }
        Json unknown = Json::object();
        for (const auto& [key, value] : json.items())
            if (!known.contains(key)) unknown[key] = value;
        if (!unknown.empty()) object->unknown = jsonText(unknown);
        return id;
    }
};

/// A member that stands twice would hide the other one: parsers keep one of them without a word.
struct Twice {
    std::vector<std::set<std::string>> names;
    std::string found;

    bool operator()(int, Json::parse_event_t event, const Json& parsed) {
        if (event == Json::parse_event_t::object_start) names.emplace_back();
        if (event == Json::parse_event_t::object_end) names.pop_back();
        if (event == Json::parse_event_t::key && !names.back().insert(parsed.get<std::string>()).second) found = parsed.get<std::string>();
        return true;
    }
};

Reader read(std::string_view text, const std::string& fileName) {
    Reader reader{fileName, {}};
    if (nestedDeeperThan(text, mostDepth)) reader.refuse("it is nested too deeply for a project.");
    Json json;
    try {
        Twice twice;
        json = Json::parse(text, std::ref(twice));
        if (!twice.found.empty()) reader.refuse("“" + twice.found + "” stands twice in the same object.");
    } catch (const nlohmann::json::parse_error& error) {
        reader.refuse("it is damaged or not a project (near byte " + std::to_string(error.byte) + ").");
    } catch (const nlohmann::json::exception&) {
        reader.refuse("it is damaged: a number in it is too large.");
    }
    const Json& format = reader.member(json, "format", "it");
    if (format != "gilded-swarm") reader.refuse("it is not a Gilded Swarm project.");
    const Json& version = reader.member(json, "version", "it");
    if (!version.is_number_integer() || version.get<std::int64_t>() < 1) reader.refuse("its version is not a whole number.");
    if (version.get<std::int64_t>() > projectVersion)
        reader.refuse("it was saved by a newer Gilded Swarm (format " + jsonText(version) + ", this one reads " +
                      std::to_string(projectVersion) + ").");
    migrateProject(json, version.get<std::int64_t>());
    Json unknown = Json::object();
    for (const auto& item : json.items()) {
        const std::string& key = item.key();
        const Json& value = item.value();
        const auto& classes = objectClasses();
        const auto objectClass = std::find_if(classes.begin(), classes.end(), [&](const auto& c) { return c.plural == key; });
        if (objectClass == classes.end()) {
            if (key != "format" && key != "version") unknown[key] = value;
            continue;
        }
        if (!value.is_array()) reader.refuse("“" + key + "” is not a list.");
        for (const Json& one : value) reader.scene.order.push_back(reader.objectFrom(objectClass->type, one));
    }
    if (!unknown.empty()) reader.scene.unknown = jsonText(unknown);
    try {
        refuseUnsound(reader.scene);
    } catch (const Error& error) {
        reader.refuse(error.what());
    }
    return reader;
}

}  // namespace

Scene parseProject(std::string_view json, const std::string& fileName) { return std::move(read(json, fileName).scene); }

Scene loadProject(const std::filesystem::path& path) { return parseProject(readFile(path, mostBytes), path.filename().string()); }

void saveProject(const Scene& scene, const std::filesystem::path& path) {
    const std::string json = toJson(scene);
    if (json.size() > mostBytes)
        throw Error("The project would take more than the limit of " + std::to_string(mostBytes >> 20) +
                    " MiB that can be opened again; what was saved before is untouched. Take keys or points out.");
    writeFileAtomically(path, json);
}

}  // namespace gswarm
