#include "core/file/migrate.h"

#include <algorithm>
#include <functional>
#include <map>
#include <nlohmann/json.hpp>

#include "core/base/content_hash.h"
#include "core/file/project_file.h"
#include "core/formula/bind.h"
#include "core/formula/parse.h"
#include "core/kinds/registry.h"
#include "core/light/light_kind.h"
#include "core/material/material_kind.h"
#include "core/scene/classes.h"
#include "core/scene/object_kinds.h"

namespace gswarm {
namespace {

using Json = nlohmann::ordered_json;
using Renames = std::map<std::string, std::string>;

/// Gives a member another name where it stands.
void renameMember(Json& json, const std::string& from, const std::string& to) {
    if (!json.is_object() || !json.contains(from) || json.contains(to)) return;
    Json renamed = Json::object();
    for (auto& [key, value] : json.items()) renamed[key == from ? to : key] = std::move(value);
    json = std::move(renamed);
}

void eachOf(Json& list, const std::function<void(Json&)>& visit) {
    if (!list.is_array()) return;
    for (Json& one : list)
        if (one.is_object()) visit(one);
}
void eachMember(Json& json, const std::string& key, const std::function<void(Json&)>& visit) {
    if (json.is_object() && json.contains(key)) eachOf(json[key], visit);
}

/// Every object with its class, owners before what they own.
void eachObject(Json& list, const ObjectClass& objectClass, const std::function<void(const ObjectClass&, Json&)>& visit) {
    eachOf(list, [&](Json& object) {
        visit(objectClass, object);
        for (const ListInfo& owned : objectClass.lists)
            if (object.contains(owned.id)) eachObject(object[owned.id], classOf(owned.child), visit);
    });
}
void eachObject(Json& project, const std::function<void(const ObjectClass&, Json&)>& visit) {
    for (const ObjectClass& objectClass : objectClasses())
        if (!objectClass.plural.empty() && project.contains(objectClass.plural))
            eachObject(project[objectClass.plural], objectClass, visit);
}

/// Every object of the JSON below, parts and values alike.
void eachBelow(Json& json, const std::function<void(Json&)>& visit) {
    if (json.is_object()) visit(json);
    if (json.is_structured())
        for (Json& below : json) eachBelow(below, visit);
}

/// New addresses for old ones, and what formulas say by short names; where a thing's own name is now one of these it is
/// put in quotes, so that it goes on meaning the thing.
struct Reading {
    std::function<std::string(const std::string&)> address;
    Renames shortNames;
    Renames things{};  ///< new names, as formulas write them, by id
};

void rewriteFormula(Json& value, const Reading& reading) {
    Json& names = value["names"];
    if (!value["formula"].is_string() || !names.is_object()) return;
    const std::string text = value["formula"].get<std::string>();
    std::vector<Token> tokens;
    try {
        tokens = tokensOf(text);
    } catch (const FormulaError&) {
        return;  // what can't be read is kept as it was typed
    }
    std::string written;
    std::size_t copied = 0;
    Json newNames = Json::object();
    for (const Token& token : tokens) {
        if (token.type != Token::Type::name) continue;
        std::string now = token.text;
        if (const auto known = reading.shortNames.find(token.text); known != reading.shortNames.end()) {
            now = known->second;
        } else if (names.contains(token.text) && names[token.text].is_string()) {
            const std::string address = names[token.text].get<std::string>(), newAddress = reading.address(address);
            now = renamedPath(token.text, address, newAddress);
            if (const auto thing = reading.things.find(newAddress.substr(0, newAddress.find('/'))); thing != reading.things.end())
                now = thing->second + now.substr(now.starts_with('\'') ? now.find('\'', 1) + 1 : now.find('.'));
            newNames[now] = newAddress;
        }
        written += text.substr(copied, token.place - copied) + now;
        copied = token.place + token.text.size();
    }
    value["formula"] = written + text.substr(copied);
    names = std::move(newNames);
}

void rewriteReferences(Json& project, const Reading& reading) {
    eachBelow(project, [&](Json& value) {
        if (value.contains("formula") && value.contains("names")) rewriteFormula(value, reading);
        if (value.contains("link") && value["link"].is_string()) value["link"] = reading.address(value["link"].get<std::string>());
    });
}

/// New addresses of what moved, with what goes on behind a whole parameter: its component.
std::function<std::string(const std::string&)> following(const Renames& moved) {
    return [&moved](const std::string& old) {
        for (const auto& [from, to] : moved)
            if (old == from || old.starts_with(from + ".")) return to + old.substr(from.size());
        return old;
    };
}

/// Before version 4: no slopes of keys, and nothing about what is before the first and after the last of them.
void keysOf4(Json& project) {
    eachBelow(project, [](Json& value) {
        if (!value.contains("keys") || !value["keys"].is_array()) return;
        for (Json& key : value["keys"])
            while (key.is_array() && key.size() >= 3 && key.size() < 5) key.push_back(0);
        for (const char* beyond : {"before", "after"})
            if (!value.contains(beyond)) value[beyond] = "hold";
    });
}

/// Version 5: names of things as people read them; formulas say x y z … Now, Size and chance.
void namesOf5(Json& project) {
    renameMember(project, "pieces", "projects");
    eachMember(project, "swarms", [](Json& swarm) {
        renameMember(swarm, "stocking", "stockRule");
        renameMember(swarm, "numbers", "namedValues");
        eachMember(swarm, "namedValues", [](Json& value) { renameMember(value, "number", "value"); });
    });
    const Renames kinds = {{"piece", "project"},      {"stocking", "stockRule"}, {"namedNumber", "namedValue"},
                           {"honeycomb", "hexagons"}, {"wrap", "stream"},        {"follow", "swing"}};
    eachBelow(project, [&](Json& part) {
        if (!part.contains("kind") || !part["kind"].is_string()) return;
        if (const auto renamed = kinds.find(part["kind"].get<std::string>()); renamed != kinds.end()) part["kind"] = renamed->second;
    });
    const auto address = [](const std::string& old) {
        const std::string slot = "/stocking-";
        const auto at = old.find(slot);
        return at == std::string::npos ? old : old.substr(0, at) + "/stock-rule-" + old.substr(at + slot.size());
    };
    rewriteReferences(project, {address,
                                {{"u", "share"},
                                 {"px", "xNow"},
                                 {"py", "yNow"},
                                 {"pz", "zNow"},
                                 {"sx", "xSize"},
                                 {"sy", "ySize"},
                                 {"sz", "zSize"},
                                 {"w", "weight"},
                                 {"rnd", "chance"}}});
}

/// Version 7: the project says what comes after its pictures.
void afterOf7(Json& project) {
    eachMember(project, "projects", [](Json& settings) {
        if (!settings.contains("after")) settings["after"] = partJson(standardPart(afterKind));
    });
}

/// Version 9: swarms have symmetries.
void symmetriesOf9(Json& project) {
    eachMember(project, "swarms", [](Json& swarm) {
        if (!swarm.contains("symmetries")) swarm["symmetries"] = Json::array();
    });
}

/// The number of an old member, or of one component of it: "tilt" or "tilt.x".
const Json* oldNumber(const Json& part, const std::string& path) {
    const auto point = path.find('.');
    const auto found = part.find(path.substr(0, point));
    if (found == part.end()) return nullptr;
    if (point == std::string::npos) return &*found;
    const auto component = std::string("xyz").find(path[point + 1]);
    return found->is_array() && component < found->size() ? &(*found)[component] : nullptr;
}

/// Version 8: "Sun and sky" are two lights. The sun keeps the id; the sky's follows from it, so that a file opens alike each time.
class LightsOf8 {
  public:
    void operator()(Json& project) {
        if (!project.is_object() || !project.contains("lights") || !project["lights"].is_array()) return;
        Json lights = Json::array();
        for (Json& light : project["lights"]) {
            const bool both = light.is_object() && light.contains("light") && light["light"].is_object() &&
                              light["light"].value("kind", Json()) == "sunAndSky" && light.contains("id") && light["id"].is_string();
            if (!both) {
                lights.push_back(light);
                continue;
            }
            const auto [sun, sky] = parted(light);
            lights.push_back(sun), lights.push_back(sky);
        }
        project["lights"] = std::move(lights);
        if (moved_.empty()) return;
        rewriteReferences(project, {following(moved_), {}, names_});
    }

  private:
    std::pair<Json, Json> parted(const Json& both) {
        const Json& old = both["light"];
        const std::string id = both["id"].get<std::string>();
        ContentHash hash;
        hash.add(id);
        const std::string skyId = toText({static_cast<std::uint64_t>(ObjectType::light) << 56 | hash.value() >> 9});
        const bool standard = both.value("name", Json()) == "Sun and sky";
        const std::string name = both.contains("name") && both["name"].is_string() ? both["name"].get<std::string>() : "Sun";
        Json sun = both, sky = both;
        sun["name"] = standard ? "Sun" : name;
        sky["id"] = skyId, sky["name"] = standard ? "Sky" : name + " sky";
        names_[id] = inFormula(sun["name"].get<std::string>()), names_[skyId] = inFormula(sky["name"].get<std::string>());
        sun["light"] = partJson(standardPart(sunLight)), sky["light"] = partJson(standardPart(skyLight));
        const auto move = [&](const char* from, Json& light, const std::string& of, const char* to) {
            if (const Json* number = oldNumber(old, from)) light["light"][to] = *number;
            moved_[id + "/" + from] = of + "/" + to;
        };
        // Format 4 and before had the direction as one.
        for (const auto& [from, to] : Renames{{"sunDirection.x", "height"},
                                              {"sunDirection.y", "around"},
                                              {"sunHeight", "height"},
                                              {"sunAround", "around"},
                                              {"sunStrength", "strength"},
                                              {"sunSize", "size"},
                                              {"sunColour", "colour"}})
            move(from.c_str(), sun, id, to.c_str());
        for (const auto& [from, to] : Renames{{"skyStrength", "strength"},
                                              {"zenith", "zenith"},
                                              {"horizon", "horizon"},
                                              {"ground", "ground"},
                                              {"groundHeight", "groundHeight"},
                                              {"groundColour", "groundColour"}})
            move(from.c_str(), sky, skyId, to.c_str());
        return {sun, sky};
    }

    Renames moved_, names_;
};

/// Version 6: what stock and shapes said of their looks stands in materials. Each gets the id of what had it, with a letter of
/// its own; what is alike and does not move is one. What read a number of these reads it there.
class MaterialsOf6 {
  public:
    void operator()(Json& project) {
        eachMember(project, "swarms", [&](Json& swarm) {
            eachMember(swarm, "stock", [&](Json& stock) {
                if (stock.contains("entry")) take(stock, stock["entry"], "", {"colour", "metal", "roughness"}, 0.5, true);
            });
        });
        eachMember(project, "shapes", [&](Json& shape) {
            if (!shape.contains("display") || !shape["display"].is_object()) return;
            const Json& display = shape["display"];
            const bool plain = display.value("as", Json()) == "hidden" && display.value("colour", Json()) == Json({0.42, 0.39, 0.35, 1});
            take(shape, shape["display"], "display-", {"colour"}, 0.8, !plain);
        });
        eachMember(project, "lights", [](Json& light) {
            if (!light.contains("hang")) light["hang"] = partJson(standardPart(hangKind));
        });
        if (!made_.empty()) project["materials"] = made_;
        if (!moved_.empty()) rewriteReferences(project, {following(moved_), {}});
    }

  private:
    void take(Json& user, Json& part, const std::string& prefix, const std::vector<std::string>& members, double roughness, bool wanted) {
        if (!part.is_object() || !user.contains("id") || !user["id"].is_string() || user["id"].get<std::string>().empty()) return;
        Json material = partJson(standardPart(plainMaterial));
        material["roughness"] = roughness;
        bool moves = false;
        for (const std::string& member : members) {
            if (!part.contains(member)) continue;
            material[member] = part[member];
            for (const Json& value : part[member].is_array() ? part[member] : Json::array({part[member]}))
                moves = moves || value.is_object();
            part.erase(member);
        }
        part["material"] = nullptr;
        if (!wanted) return;
        const std::string name =
            user.contains("name") && user["name"].is_string() ? user["name"].get<std::string>() + " material" : "Material";
        const std::string old = user["id"].get<std::string>();
        const auto like = std::find_if(made_.begin(), made_.end(), [&](const Json& other) { return other["material"] == material; });
        std::string id = static_cast<char>(ObjectType::material) + old.substr(1);
        if (like != made_.end() && !moves)
            id = (*like)["id"].get<std::string>();
        else
            made_.push_back({{"id", id}, {"name", name}, {"material", material}, {"shaped", partJson(standardPart(responseKind))}});
        part["material"] = id;
        for (const std::string& member : members) moved_[old + "/" + prefix + member] = id + "/" + member;
    }

    Json made_ = Json::array();
    Renames moved_;
};

void apply(const Migration& migration, Json& part) {
    Json made = Json::object();
    for (const auto& [key, value] : part.items()) {
        bool old = false;
        for (const auto& [from, to] : migration.renamed) {
            if (from.substr(0, from.find('.')) != key) continue;
            old = true;
            if (const Json* number = oldNumber(part, from)) made[to] = *number;
        }
        if (!old) made[key] = value;
    }
    part = std::move(made);
    if (migration.change) migration.change(part);
}

/// Parts of older versions of their kinds; what they renamed goes into `moved`, by the addresses of their numbers.
void migrateParts(const ObjectClass& objectClass, Json& object, Renames& moved) {
    for (const SlotInfo& slot : objectClass.slotInfos) {
        const auto found = object.find(slot.id);
        if (found == object.end() || !found->is_object()) continue;
        Json& part = *found;
        if (!part.contains("kind") || !part["kind"].is_string() || !part.contains("version") || !part["version"].is_number_integer())
            continue;
        const Kind* kind = findKind(slot.family, part["kind"].get<std::string>());
        const auto version = part["version"].get<std::int64_t>();
        if (!kind || version < 1 || version >= kind->version) continue;
        for (const Migration& migration : kind->migrations) {
            if (migration.version <= version) continue;
            apply(migration, part);
            const Json& id = object.contains("id") ? object["id"] : Json();
            for (const auto& [from, to] : migration.renamed)
                if (id.is_string())
                    moved[id.get<std::string>() + "/" + slot.prefix + from] = id.get<std::string>() + "/" + slot.prefix + to;
        }
        for (const Parameter& p : kind->parameters)
            if (p.since > version && !part.contains(p.id)) part[p.id] = valueJson(p.standard);
        part["version"] = kind->version;
    }
}

void migrateKinds(Json& project) {
    Renames moved;
    eachObject(project, [&](const ObjectClass& objectClass, Json& object) { migrateParts(objectClass, object, moved); });
    if (moved.empty()) return;
    // An address goes on behind a whole parameter with its component.
    const auto address = [&](const std::string& old) {
        if (const auto found = moved.find(old); found != moved.end()) return found->second;
        const auto point = old.rfind('.');
        const auto found = point == std::string::npos ? moved.end() : moved.find(old.substr(0, point));
        return found == moved.end() ? old : found->second + old.substr(point);
    };
    rewriteReferences(project, {address, {}});
}

/// Before version 4 parts were left out that did not exist yet; what they mean by that are the defaults.
void completedTo4(Json& project) {
    eachObject(project, [](const ObjectClass& objectClass, Json& object) {
        for (const SlotInfo& slot : objectClass.slotInfos) {
            const Kind& first = slot.only ? *slot.only : *kindsOf(slot.family).front();
            if (!object.contains(slot.id)) object[slot.id] = partJson(standardPart(first));
            Json& part = object[slot.id];
            if (!part.is_object() || !part.contains("kind") || !part["kind"].is_string()) continue;
            const Kind* kind = findKind(slot.family, part["kind"].get<std::string>());
            if (!kind || part.value("version", Json()) != kind->version) continue;
            for (const Parameter& p : kind->parameters)
                if (!part.contains(p.id)) part[p.id] = valueJson(p.standard);
        }
        for (const ListInfo& list : objectClass.lists)
            if (!object.contains(list.id)) object[list.id] = Json::array();
    });
}

}  // namespace

void migrateProject(Json& project, std::int64_t version) {
    if (version < 4) keysOf4(project);
    if (version < 5) namesOf5(project);
    if (version < 6) MaterialsOf6()(project);
    if (version < 7) afterOf7(project);
    if (version < 8) LightsOf8()(project);
    if (version < 9) symmetriesOf9(project);
    migrateKinds(project);
    if (version < 4) completedTo4(project);
    project["version"] = projectVersion;
}

}  // namespace gswarm
