#include "app/export/settings_json.h"

#include <nlohmann/json.hpp>

#include "core/base/error.h"

using gswarm::Part;
using nlohmann::json;

namespace {

json valueOf(const gswarm::Value& value) {
    if (const auto* on = std::get_if<bool>(&value)) return *on;
    if (const auto* text = std::get_if<std::string>(&value)) return *text;
    return std::get<gswarm::Numbers>(value).front().value;
}

gswarm::Value valueFrom(const json& value) {
    if (value.is_boolean()) return value.get<bool>();
    if (value.is_string()) return value.get<std::string>();
    return gswarm::fixedNumbers({value.get<double>()});
}

}  // namespace

json settingsJson(const Part& settings) {
    json values = json::object();
    for (std::size_t i = 0; i < settings.values.size(); ++i) values[settings.kind->parameters[i].id] = valueOf(settings.values[i]);
    return {{"kind", settings.kind->id}, {"settings", values}};
}

Part settingsFrom(const json& j) {
    const gswarm::ExporterKind* kind = gswarm::findExporter(j.at("kind").get<std::string>());
    if (!kind) throw gswarm::Error("There is no exporter of that name.");
    Part settings = gswarm::standardPart(*kind);
    for (const auto& [id, value] : j.at("settings").items()) {
        const int at = kind->indexOf(id);
        if (at < 0) continue;
        gswarm::Value given = valueFrom(value);
        gswarm::Value& now = settings.values[static_cast<std::size_t>(at)];
        const gswarm::Parameter& parameter = kind->parameters[static_cast<std::size_t>(at)];
        const auto* choice = std::get_if<std::string>(&given);
        const bool known = parameter.choices.empty() || !choice ||
                           std::any_of(parameter.choices.begin(), parameter.choices.end(), [&](const auto& c) { return c.id == *choice; });
        if (given.index() == now.index() && known) now = std::move(given);
    }
    return settings;
}
