#include "core/scene/scale_number.h"

#include <nlohmann/json.hpp>

#include "core/base/json_text.h"

namespace gswarm {

using Json = nlohmann::ordered_json;

void scaleNumber(Json& part, const char* parameter, double factor) {
    if (!part.contains(parameter)) return;
    Json& number = part[parameter];
    const auto scaled = [&](Json& json) {
        if (json.is_number()) json = json.get<double>() * factor;
    };
    scaled(number);
    if (!number.is_object()) return;
    if (number.contains("value")) scaled(number["value"]);
    if (number.contains("formula") && number["formula"].is_string())
        number["formula"] = "(" + number["formula"].get<std::string>() + ") * " + jsonText(factor);
    if (number.contains("onto") && number["onto"].is_array())
        for (Json& end : number["onto"]) scaled(end);
    if (number.contains("step")) scaled(number["step"]);
    if (number.contains("keys") && number["keys"].is_array())
        for (Json& key : number["keys"])
            for (const std::size_t at : {1, 3, 4})
                if (key.is_array() && at < key.size()) scaled(key[at]);
}

}  // namespace gswarm
