#pragma once
#include <string>

#include "core/material/material.h"
#include "core/picture/view.h"

namespace tinygltf {
class Model;
struct Material;
}  // namespace tinygltf

/// What glTF 2.0 and its ratified extensions say of materials, lights and cameras.
namespace gswarm::gltf {

/// Names an extension among those that are used, once.
void use(tinygltf::Model& model, const std::string& extension);

/// `linear` is the colour of what it is on; `seeThrough`: some of that is not wholly opaque. A rim, which no
/// extension knows, is left out.
tinygltf::Material materialOf(tinygltf::Model& model, const Material& look, const glm::vec4& linear, bool seeThrough);

/// The sun and lamps as punctual lights (flat ones as spots with the light of their area), and the camera.
void addSurroundings(tinygltf::Model& model, const Setting& setting, const std::vector<Lamp>& lamps, double aspect);

}  // namespace gswarm::gltf
