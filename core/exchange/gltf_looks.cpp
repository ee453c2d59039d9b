#include "core/exchange/gltf_looks.h"

#include <tiny_gltf.h>

#include <algorithm>
#include <cmath>
#include <glm/gtc/quaternion.hpp>
#include <glm/gtx/quaternion.hpp>
#include <numbers>

namespace gswarm::gltf {
namespace {

using tinygltf::Value;

Value number(float v) { return Value(static_cast<double>(v)); }
Value colour(const glm::vec3& c) { return Value(Value::Array{number(c.x), number(c.y), number(c.z)}); }

tinygltf::Node nodeAt(const std::string& name, const glm::vec3& position, const glm::quat& turn) {
    tinygltf::Node node;
    node.name = name;
    node.translation = {position.x, position.y, position.z};
    node.rotation = {turn.x, turn.y, turn.z, turn.w};
    return node;
}

void addNode(tinygltf::Model& model, tinygltf::Node node) {
    model.nodes.push_back(std::move(node));
    model.scenes[0].nodes.push_back(static_cast<int>(model.nodes.size()) - 1);
}

/// Colour of at most 1 and strength, from light.
void addLight(tinygltf::Model& model, tinygltf::Light light, const glm::vec3& linear, const glm::vec3& position, const glm::vec3& along) {
    const float bright = std::max({linear.x, linear.y, linear.z});
    if (!(bright > 0)) return;
    light.color = {linear.x / bright, linear.y / bright, linear.z / bright};
    light.intensity = bright;
    model.lights.push_back(light);
    use(model, "KHR_lights_punctual");
    // They shine along their own -Z.
    tinygltf::Node node = nodeAt(light.name, position, glm::rotation(glm::vec3(0, 0, -1), along));
    Value::Object extension;
    extension["light"] = Value(static_cast<int>(model.lights.size()) - 1);
    node.extensions["KHR_lights_punctual"] = Value(extension);
    addNode(model, node);
}

void addLamp(tinygltf::Model& model, const Lamp& lamp, int which) {
    tinygltf::Light light;
    light.name = "Lamp " + std::to_string(which);
    light.range = lamp.reach;
    light.type = lamp.form == LampForm::point ? "point" : "spot";
    if (lamp.form == LampForm::spot) {
        light.spot.innerConeAngle = std::acos(lamp.cosineFull);
        light.spot.outerConeAngle = std::max(std::acos(lamp.cosineNone), static_cast<float>(light.spot.innerConeAngle) + 1e-4f);
    } else if (lamp.form != LampForm::point) {
        light.spot.innerConeAngle = 0;
        light.spot.outerConeAngle = std::numbers::pi / 2;
    }
    addLight(model, light, intensityOf(lamp), lamp.position, lamp.along);
}

}  // namespace

void use(tinygltf::Model& model, const std::string& extension) {
    auto& used = model.extensionsUsed;
    if (std::find(used.begin(), used.end(), extension) == used.end()) used.push_back(extension);
}

tinygltf::Material materialOf(tinygltf::Model& model, const Material& look, const glm::vec4& linear, bool seeThrough) {
    tinygltf::Material material;
    material.pbrMetallicRoughness.baseColorFactor = {linear.x, linear.y, linear.z, linear.w};
    material.pbrMetallicRoughness.metallicFactor = look.metal;
    material.pbrMetallicRoughness.roughnessFactor = look.roughness;
    material.doubleSided = look.body != MaterialBody::solid || look.transmission <= 0;
    if (seeThrough) material.alphaMode = "BLEND";
    const auto add = [&](const char* name, Value::Object members) {
        material.extensions[name] = Value(std::move(members));
        use(model, name);
    };
    if (look.emission > 0) {
        const glm::vec3 c = glm::clamp(look.emissionColour == glm::vec3(0) ? glm::vec3(linear) : look.emissionColour, 0.0f, 1.0f);
        material.emissiveFactor = {c.x, c.y, c.z};
        if (look.emission != 1) add("KHR_materials_emissive_strength", {{"emissiveStrength", number(look.emission)}});
    }
    if (look.ior != 1.5f) add("KHR_materials_ior", {{"ior", number(look.ior)}});
    if (look.body != MaterialBody::opaque && look.transmission > 0)
        add("KHR_materials_transmission", {{"transmissionFactor", number(look.transmission)}});
    if (look.body == MaterialBody::solid && look.transmission > 0) {
        // A thickness above 0 tells that there is an inside; path tracers find how thick it is by themselves.
        Value::Object volume{{"thicknessFactor", number(1)}, {"attenuationColor", colour(look.attenuationColour)}};
        if (look.attenuationDistance > 0) volume["attenuationDistance"] = number(look.attenuationDistance);
        add("KHR_materials_volume", volume);
        if (look.dispersion > 0) add("KHR_materials_dispersion", {{"dispersion", number(look.dispersion)}});
    }
    if (look.coat > 0)
        add("KHR_materials_clearcoat", {{"clearcoatFactor", number(look.coat)}, {"clearcoatRoughnessFactor", number(look.coatRoughness)}});
    if (look.sheen > 0)
        add("KHR_materials_sheen",
            {{"sheenColorFactor", colour(look.sheenColour * look.sheen)}, {"sheenRoughnessFactor", number(look.sheenRoughness)}});
    return material;
}

void addSurroundings(tinygltf::Model& model, const Setting& setting, const std::vector<Lamp>& lamps, double aspect) {
    for (const Sun& shining : setting.light.suns) {
        tinygltf::Light sun;
        sun.name = "Sun";
        sun.type = "directional";
        // Its strength is what white paper that faces it sends back; lux are pi times that.
        addLight(model, sun, shining.light * std::numbers::pi_v<float>, {}, -shining.toward);
    }
    for (std::size_t i = 0; i < lamps.size(); ++i) addLamp(model, lamps[i], static_cast<int>(i) + 1);
    tinygltf::Camera camera;
    camera.name = "Camera";
    const double first = std::max(0.01, static_cast<double>(setting.camera.nearCut));
    const double last = setting.camera.farCut > 0 ? std::max(first * 1.001, static_cast<double>(setting.camera.farCut)) : 1e4;
    if (setting.camera.projection == Projection::parallel) {
        camera.type = "orthographic";
        camera.orthographic.xmag = setting.camera.width / 2;
        camera.orthographic.ymag = setting.camera.width / 2 / aspect;
        camera.orthographic.znear = first;
        camera.orthographic.zfar = last;
    } else {
        camera.type = "perspective";
        camera.perspective.aspectRatio = aspect;
        camera.perspective.yfov = verticalFieldOfView(setting.camera, static_cast<float>(aspect));
        camera.perspective.znear = first;
        camera.perspective.zfar = last;
    }
    model.cameras.push_back(camera);
    tinygltf::Node node = nodeAt("Camera", setting.camera.position, glm::quat_cast(glm::inverse(viewMatrix(setting.camera))));
    node.camera = 0;
    addNode(model, node);
}

}  // namespace gswarm::gltf
