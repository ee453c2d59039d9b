#pragma once
#include <functional>
#include <map>
#include <span>
#include <string>
#include <vector>

#include "core/material/material.h"

namespace tinygltf {
class Model;
struct Material;
}  // namespace tinygltf

namespace gswarm::gltf {

/// The pictures that a glTF file carries, each once.
class Pictures {
  public:
    /// `addView` puts bytes into the file and returns the number of their view.
    Pictures(tinygltf::Model& model, std::function<int(std::span<const char>)> addView);

    /// Adds what is on a plain look's colour, roughness and glow to its material. Bumps, for which glTF has only normals, are left out.
    void add(tinygltf::Material& material, const Look& look);

  private:
    enum class Use { colour, roughness, glow, ownGlow };
    int texture(const SurfacePictures& pictures, Use use);

    tinygltf::Model& model_;
    std::function<int(std::span<const char>)> addView_;
    std::map<std::vector<const void*>, int> made_;
};

}  // namespace gswarm::gltf
