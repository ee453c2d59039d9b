// The JSON Schema of the project file, made from the tables of all kinds.
#include <nlohmann/json.hpp>

#include "core/scene/classes.h"
#include "core/scene/project_file.h"

namespace gswarm {
namespace {

using Json = nlohmann::ordered_json;

Json valueSchema(const Parameter& p) {
    Json json;
    if (p.numeric()) {
        Json number{{"$ref", "#/definitions/value"}};
        json =
            p.components == 1 ? number : Json{{"type", "array"}, {"items", number}, {"minItems", p.components}, {"maxItems", p.components}};
    } else if (p.type == ParameterType::toggle) {
        json = {{"$ref", "#/definitions/switch"}};
    } else if (p.type == ParameterType::choice) {
        Json ids = Json::array();
        for (const auto& choice : p.choices) ids.push_back(choice.id);
        json = {{"enum", ids}};
    } else if (p.type == ParameterType::reference) {
        json = {{"type", {"string", "null"}}};
    } else if (p.type == ParameterType::points) {
        const Json place{{"type", "array"}, {"items", {{"type", "number"}}}, {"minItems", 3}, {"maxItems", 3}};
        json = {{"type", "array"}, {"items", place}, {"minItems", 2}, {"maxItems", mostPoints}};
    } else if (p.type == ParameterType::curve) {
        const Json point{{"type", "array"}, {"items", {{"type", "number"}}}, {"minItems", 4}, {"maxItems", 4}};
        json = {{"type", "array"}, {"items", point}, {"minItems", 2}, {"maxItems", mostCurvePoints}};
    } else if (p.type == ParameterType::formula) {
        json = {{"$ref", "#/definitions/formula"}};
    } else if (p.type == ParameterType::ramp) {
        json = {{"$ref", "#/definitions/ramp"}};
    } else {
        json = {{"type", "string"}};
    }
    json["description"] = p.summary;
    return json;
}

Json kindSchema(const Kind& kind) {
    Json properties{{"kind", {{"const", kind.id}}}, {"version", {{"const", kind.version}}}};
    for (const auto& p : kind.parameters) properties[p.id] = valueSchema(p);
    return {{"type", "object"}, {"description", kind.summary}, {"required", {"kind", "version"}}, {"properties", properties}};
}

Json classSchema(const ObjectClass& objectClass) {
    Json properties{{"id", {{"type", "string"}, {"pattern", std::string("^") + static_cast<char>(objectClass.type) + "[0-9a-z]{11}$"}}},
                    {"name", {{"type", "string"}, {"maxLength", 200}}}};
    Json required{"id", "name"};
    for (const auto& slot : objectClass.slotInfos) {
        Json kinds = Json::array();
        for (const Kind* kind : kindsOf(slot.family))
            if (!slot.only || slot.only == kind) kinds.push_back({{"$ref", "#/definitions/" + toText(slot.family) + "-" + kind->id}});
        properties[slot.id] = {{"oneOf", kinds}};
        required.push_back(slot.id);
    }
    for (const auto& list : objectClass.lists) {
        properties[list.id] = {{"type", "array"}, {"items", {{"$ref", "#/definitions/" + classOf(list.child).id}}}};
        required.push_back(list.id);
    }
    return {{"type", "object"}, {"required", required}, {"properties", properties}};
}

}  // namespace

std::string projectSchema() {
    const Json plain{{"type", "number"}};
    const Json key{{"type", "array"},
                   {"minItems", 5},
                   {"maxItems", 5},
                   {"items", Json::array({plain, plain, Json{{"enum", easeNames}}, plain, plain})}};
    const Json beyond{{"enum", beyondNames}};
    const Json keyed{
        {"type", "object"},
        {"required", {"keys", "before", "after"}},
        {"properties",
         {{"keys", {{"type", "array"}, {"minItems", 1}, {"maxItems", mostKeys}, {"items", key}}}, {"before", beyond}, {"after", beyond}}}};
    const Json pair{{"type", "array"}, {"items", plain}, {"minItems", 2}, {"maxItems", 2}};
    const Json point{{"type", "array"}, {"items", plain}, {"minItems", 4}, {"maxItems", 4}};
    const Json link{{"type", "object"},
                    {"required", {"link", "from", "onto", "curve", "clip", "step", "delay", "value"}},
                    {"properties",
                     {{"link", {{"type", "string"}}},
                      {"from", pair},
                      {"onto", pair},
                      {"curve", {{"type", "array"}, {"items", point}, {"maxItems", mostCurvePoints}}},
                      {"clip", {{"type", "boolean"}}},
                      {"step", plain},
                      {"delay", plain},
                      {"value", plain}}}};
    const Json stop{{"type", "object"},
                    {"required", {"at", "colour"}},
                    {"properties", {{"at", plain}, {"colour", {{"type", "array"}, {"items", plain}, {"minItems", 4}, {"maxItems", 4}}}}}};
    const Json formula{{"type", "object"},
                       {"required", {"formula", "names"}},
                       {"properties",
                        {{"formula", {{"type", "string"}, {"maxLength", longestFormula}}},
                         {"names", {{"type", "object"}, {"additionalProperties", {{"type", "string"}}}}}}}};
    const Json formulaReference{{"$ref", "#/definitions/formula"}};
    const Json moving = Json::array({{{"type", "boolean"}}, {{"$ref", "#/definitions/value"}}});
    Json definitions{
        {"formula", formula},
        {"switch", {{"oneOf", moving}}},
        {"value",
         {{"oneOf",
           Json::array({plain, keyed, link, {{"allOf", Json::array({formulaReference, {{"required", Json::array({"value"})}}})}}})}}},
        {"ramp", {{"type", "array"}, {"minItems", 1}, {"maxItems", mostRampStops}, {"items", stop}}}};
    for (const Family family : {Family::object, Family::shape, Family::formation, Family::pattern, Family::zone, Family::gesture,
                                Family::response, Family::stagger})
        for (const Kind* kind : kindsOf(family)) definitions[toText(family) + "-" + kind->id] = kindSchema(*kind);
    Json properties{{"format", {{"const", "gilded-swarm"}}}, {"version", {{"const", projectVersion}}}};
    for (const auto& objectClass : objectClasses()) {
        definitions[objectClass.id] = classSchema(objectClass);
        if (!objectClass.plural.empty())
            properties[objectClass.plural] = {{"type", "array"}, {"items", {{"$ref", "#/definitions/" + objectClass.id}}}};
    }
    const Json schema{{"$schema", "http://json-schema.org/draft-07/schema#"},
                      {"title", "Gilded Swarm project, version 4"},
                      {"type", "object"},
                      {"required", {"format", "version", "pieces"}},
                      {"properties", properties},
                      {"definitions", definitions}};
    return schema.dump(1) + "\n";
}

}  // namespace gswarm
