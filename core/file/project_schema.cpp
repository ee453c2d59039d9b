// The JSON Schema of the project file, made from the tables of all kinds.
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/base/json_text.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/scene/classes.h"

namespace gswarm {
namespace {

using Json = nlohmann::ordered_json;

Json between(double low, double high) { return {{"type", "number"}, {"minimum", low}, {"maximum", high}}; }
Json list(const Json& of, std::size_t least, std::size_t most) {
    return {{"type", "array"}, {"items", of}, {"minItems", least}, {"maxItems", most}};
}
/// A list whose places mean different things.
Json row(std::initializer_list<Json> of) { return list(Json(std::vector<Json>(of)), of.size(), of.size()); }
/// An object of which nothing else would be kept.
Json only(const Json& properties) {
    Json required = Json::array();
    for (const auto& [name, schema] : properties.items()) required.push_back(name);
    return {{"type", "object"}, {"required", required}, {"properties", properties}, {"additionalProperties", false}};
}
Json reference(const std::string& definition) { return {{"$ref", "#/definitions/" + definition}}; }
std::string idPattern(const std::string& letters) { return "^[" + letters + "][0-9a-hjkmnp-tv-z]{11}$"; }

/// What a number may be, of the settings with one hard range: fixed, keyed, linked or by a formula.
Json numberSchema(const Range& hard) {
    const Json value = between(hard.low, hard.high), beyond{{"enum", beyondNames}}, ends = row({reference("far"), reference("far")});
    const Json key = row({between(-1e7, 1e7), value, Json{{"enum", easeNames}}, reference("far"), reference("far")});
    const Json keyed = only({{"keys", list(key, 1, mostKeys)}, {"before", beyond}, {"after", beyond}});
    const Json link =
        only({{"link", {{"type", "string"}}},
              {"from", ends},
              {"onto", ends},
              {"curve", list(row({reference("any"), reference("any"), reference("any"), reference("any")}), 0, mostCurvePoints)},
              {"clip", {{"type", "boolean"}}},
              {"step", between(0, 1e9)},
              {"delay", reference("far")},
              {"value", value}});
    const Json byFormula = only({{"formula", reference("formulaText")}, {"names", reference("formulaNames")}, {"value", value}});
    return {{"oneOf", Json::array({value, keyed, link, byFormula})}};
}

/// The definitions of numbers by their hard ranges, as they come to be needed.
struct NumberSchemas {
    Json& definitions;

    std::string nameOf(const Range& hard) {
        std::ostringstream name;
        name << "number from " << hard.low << " to " << hard.high;
        if (!definitions.contains(name.str())) definitions[name.str()] = numberSchema(hard);
        return name.str();
    }
};

Json valueSchema(const Parameter& p, NumberSchemas& numbers) {
    Json json;
    if (p.numeric()) {
        const Json number = p.still ? between(p.hard.low, p.hard.high) : reference(numbers.nameOf(p.hard));
        json = p.components == 1 ? number : list(number, static_cast<std::size_t>(p.components), static_cast<std::size_t>(p.components));
    } else if (p.type == ParameterType::toggle) {
        json = p.still ? Json{{"type", "boolean"}}
                       : Json{{"oneOf",
                               Json::array({{{"type", "boolean"}},
                                            Json{{"allOf", Json::array({reference(numbers.nameOf(p.hard)), Json{{"type", "object"}}})}}})}};
    } else if (p.type == ParameterType::choice) {
        Json ids = Json::array();
        for (const auto& choice : p.choices) ids.push_back(choice.id);
        json = {{"enum", ids}};
    } else if (p.type == ParameterType::reference) {
        std::string letters;
        for (const ObjectType type : p.references) letters += static_cast<char>(type);
        json = {{"oneOf", Json::array({{{"type", "string"}, {"pattern", idPattern(letters)}}, {{"type", "null"}}})}};
    } else if (p.type == ParameterType::points) {
        const Json place = between(-1e6, 1e6);
        json = list(row({place, place, place}), 2, mostPoints);
    } else if (p.type == ParameterType::curve) {
        const Json some = between(-1000, 1000);
        json = list(row({between(0, 1), some, some, some}), 2, mostCurvePoints);
    } else if (p.type == ParameterType::formula) {
        json = reference("formula");
    } else if (p.type == ParameterType::ramp) {
        json = reference("ramp");
    } else {
        json = {{"type", "string"}};
    }
    // What stands beside a $ref is passed over, so that the words go around it.
    if (json.contains("$ref")) json = {{"allOf", Json::array({json})}};
    json["description"] = p.summary;
    return json;
}

Json kindSchema(const Kind& kind, NumberSchemas& numbers) {
    Json properties{{"kind", {{"const", kind.id}}}, {"version", {{"const", kind.version}}}};
    for (const auto& p : kind.parameters) properties[p.id] = valueSchema(p, numbers);
    Json required = Json::array();
    for (const auto& [name, schema] : properties.items()) required.push_back(name);
    return {{"type", "object"}, {"description", kind.summary}, {"required", required}, {"properties", properties}};
}

Json classSchema(const ObjectClass& objectClass) {
    Json properties{{"id", {{"type", "string"}, {"pattern", idPattern({static_cast<char>(objectClass.type)})}}},
                    {"name", {{"type", "string"}, {"maxLength", longestName}}}};
    if (!objectClass.plural.empty()) properties["inGroup"] = {{"type", "string"}, {"pattern", idPattern("o")}};
    Json required{"id", "name"};
    for (const auto& slot : objectClass.slotInfos) {
        Json kinds = Json::array();
        for (const Kind* kind : kindsOf(slot.family))
            if (!slot.only || slot.only == kind) kinds.push_back({{"$ref", "#/definitions/" + toText(slot.family) + "-" + kind->id}});
        properties[slot.id] = {{"oneOf", kinds}};
        required.push_back(slot.id);
    }
    for (const auto& list : objectClass.lists) {
        properties[list.id] = {{"type", "array"}, {"items", reference(classOf(list.child).id)}};
        // A swarm without a formation stands nowhere.
        if (list.child == ObjectType::formation) properties[list.id]["minItems"] = 1;
        required.push_back(list.id);
    }
    return {{"type", "object"}, {"required", required}, {"properties", properties}};
}

}  // namespace

std::string projectSchema() {
    const Json any{{"type", "number"}};
    const Json colour = list(between(-64, 64), 4, 4);
    Json definitions{{"any", any},
                     {"far", between(-1e9, 1e9)},
                     {"formulaText", {{"type", "string"}, {"maxLength", longestFormula}}},
                     {"formulaNames", {{"type", "object"}, {"maxProperties", 1000}, {"additionalProperties", {{"type", "string"}}}}},
                     {"formula", only({{"formula", reference("formulaText")}, {"names", reference("formulaNames")}})},
                     {"ramp", list(only({{"at", between(0, 1)}, {"colour", colour}}), 1, mostRampStops)}};
    NumberSchemas numbers{definitions};
    for (const Family family :
         {Family::object, Family::shape, Family::formation, Family::pattern, Family::zone, Family::gesture, Family::response,
          Family::stagger, Family::material, Family::light, Family::symmetry, Family::media, Family::sound, Family::force})
        for (const Kind* kind : kindsOf(family)) {
            const Json made = kindSchema(*kind, numbers);
            definitions[toText(family) + "-" + kind->id] = made;
        }
    Json properties{{"format", {{"const", "gilded-swarm"}}}, {"version", {{"const", projectVersion}}}};
    for (const auto& objectClass : objectClasses()) {
        definitions[objectClass.id] = classSchema(objectClass);
        if (!objectClass.plural.empty()) properties[objectClass.plural] = {{"type", "array"}, {"items", reference(objectClass.id)}};
    }
    properties["projects"]["minItems"] = properties["projects"]["maxItems"] = 1;
    const Json schema{
        {"$schema", "http://json-schema.org/draft-07/schema#"},
        {"title", "Gilded Swarm project, version " + std::to_string(projectVersion)},
        {"description",
         "What it can't say is told by `gswarm validate`: ids used twice, members that stand twice, keys, points of curves and "
         "stops of ramps out of order, formulas counted in bytes, frame rates that are none, formations that are not the "
         "swarm's own, and things that stand on, hang from or follow themselves."},
        {"type", "object"},
        {"required", {"format", "version", "projects"}},
        {"properties", properties},
        {"definitions", definitions}};
    return jsonText(schema, 1) + "\n";
}

}  // namespace gswarm
