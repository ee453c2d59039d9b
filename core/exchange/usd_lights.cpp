// Lights of a USD stage as UsdLux has them.
#include "core/exchange/usd_things.h"

#include <cmath>
#include <glm/gtx/quaternion.hpp>
#include <numbers>

namespace gswarm::usd {
namespace {

constexpr float pi = std::numbers::pi_v<float>;

struct Emits {
    glm::vec3 colour{1};
    float intensity = 0;
};
Emits emits(const glm::vec3& light) {
    const float bright = std::max({light.x, light.y, light.z});
    return bright > 0 ? Emits{light / bright, bright} : Emits{};
}

std::vector<Attribute> emitting(const std::function<glm::vec3(int frame)>& light) {
    return {{"color3f inputs:color",
             [light](int f) {
                 const auto c = emits(light(f)).colour;
                 return three(c.x, c.y, c.z);
             },
             {}},
            {"float inputs:intensity", [light](int f) { return number(emits(light(f)).intensity); }, {}}};
}

/// UsdLux shines along -Z; a pose that does as well.
WorldPose shiningAlong(const glm::vec3& position, const glm::vec3& along) {
    return {position, glm::rotation(glm::vec3(0, 0, -1), along), 1};
}

/// A ball that small shines like a point.
constexpr float leastRadius = 0.005f;

Prim lampPrim(const Lamp& first, const std::string& name, const std::string& label, const std::function<Lamp(int frame)>& lamp) {
    Prim prim{first.form == LampForm::rectangle ? "RectLight"
              : first.form == LampForm::disc    ? "DiskLight"
                                                : "SphereLight",
              name,
              {displayName(label)},
              {},
              {},
              {}};
    const auto light = [lamp](int f) {
        const Lamp l = lamp(f);
        const float radius = std::max(l.radius, leastRadius);
        // Candela of a ball over the disc that is seen of it are its nits.
        return l.form == LampForm::point || l.form == LampForm::spot ? l.light / (pi * radius * radius) : l.light;
    };
    prim.attributes = emitting(light);
    const auto add = [&](const char* declared, const std::function<float(const Lamp&)>& of) {
        prim.attributes.push_back({declared, [lamp, of](int f) { return number(of(lamp(f))); }, {}});
    };
    if (first.form == LampForm::rectangle) {
        add("float inputs:width", [](const Lamp& l) { return l.width; });
        add("float inputs:height", [](const Lamp& l) { return l.depth; });
    } else {
        add("float inputs:radius", [](const Lamp& l) { return std::max(l.radius, leastRadius); });
    }
    if (first.form == LampForm::spot) {
        prim.meta.insert(prim.meta.begin(), "prepend apiSchemas = [\"ShapingAPI\"]");
        add("float inputs:shaping:cone:angle", [](const Lamp& l) { return std::acos(l.cosineNone) * 180 / pi; });
        add("float inputs:shaping:cone:softness",
            [](const Lamp& l) { return 1 - std::acos(l.cosineFull) / std::max(std::acos(l.cosineNone), 1e-4f); });
    }
    addPlacing(prim, [lamp](int f) {
        const Lamp l = lamp(f);
        // Its width along X, what shines along -Z.
        const glm::mat3 axes(l.side, glm::cross(-l.along, l.side), -l.along);
        return WorldPose{l.position, glm::quat_cast(axes), 1};
    });
    return prim;
}

}  // namespace

std::vector<Prim> lightPrims(FrameNow& now, std::vector<std::string>& taken) {
    std::vector<Prim> prims;
    const int first = now.frames().range.first;
    const Scene& scene = now.frames().scene;
    const auto labelOf = [&](ObjectId of) { return scene.find(of) ? scene.at(of).name : std::string("Light"); };
    const FarLight far = now.setting(first).light;
    for (std::size_t k = 0; k < far.suns.size(); ++k) {
        const auto sun = [&now, k](int f) {
            const auto& suns = now.setting(f).light.suns;
            return k < suns.size() ? suns[k] : Sun{};
        };
        const std::string label = labelOf(far.suns[k].of);
        Prim prim{"DistantLight", identifier(label, taken), {displayName(label)}, {}, {"bool inputs:normalize = 1"}, {}};
        // Its strength is what white paper that faces it sends back; lux are pi times that.
        prim.attributes = emitting([sun](int f) { return sun(f).light * pi; });
        prim.attributes.push_back({"float inputs:angle", [sun](int f) { return number(sun(f).size * 180 / pi); }, {}});
        addPlacing(prim, [sun](int f) { return shiningAlong({}, -sun(f).toward); });
        prims.push_back(std::move(prim));
    }
    const auto sky = [&now](int f) {
        const FarLight& light = now.setting(f).light;
        return (light.zenith + light.horizon) * 0.5f;
    };
    if (std::max({sky(first).x, sky(first).y, sky(first).z}) > 0) {
        Prim prim{"DomeLight", identifier("Sky", taken), {}, emitting(sky), {}, {}};
        prims.push_back(std::move(prim));
    }
    for (std::size_t k = 0; k < far.surroundings.size(); ++k) {
        const Surroundings& one = far.surroundings[k];
        const std::string label = labelOf(one.of);
        const auto around = [&now, k](int f) {
            const auto& all = now.setting(f).light.surroundings;
            return k < all.size() ? all[k] : Surroundings{};
        };
        Prim prim{"DomeLight", identifier(label, taken), {displayName(label)}, {}, {}, {}};
        const bool own = one.which == SurroundingsPicture::file;
        // A picture that ships with the program is no file that could be named: its mean stands for it.
        prim.attributes = emitting(
            [around, own](int f) { return around(f).light * (own || !around(f).picture ? glm::vec3(1) : around(f).picture->mean()); });
        if (own) {
            const std::filesystem::path folder = now.frames().options.projectFolder;
            prim.lines.push_back("asset inputs:texture:file = @" + (folder / one.file).string() + "@");
            prim.lines.push_back("token inputs:texture:format = \"latlong\"");
        }
        addPlacing(prim, [around](int f) { return WorldPose{{}, glm::angleAxis(around(f).around, glm::vec3(0, 1, 0)), 1}; });
        prims.push_back(std::move(prim));
    }
    const std::vector<Lamp> lamps = now.lamps(first);
    for (std::size_t k = 0; k < lamps.size(); ++k) {
        const std::string label = labelOf(lamps[k].of);
        prims.push_back(lampPrim(lamps[k], identifier(label, taken), label, [&now, k](int f) {
            const auto& all = now.lamps(f);
            return k < all.size() ? all[k] : Lamp{};
        }));
    }
    return prims;
}

}  // namespace gswarm::usd
