#pragma once
#include <functional>
#include <map>
#include <span>
#include <string>
#include <tuple>
#include <vector>

#include "core/base/image.h"
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

    /// Adds what is on a plain look's colour, roughness and glow to its material, and its bumps as the normals that they give a mesh of
    /// so many metres for a step in U and V.
    void add(tinygltf::Material& material, const Look& look, const glm::vec2& metresPerUv);

  private:
    enum class Use { colour, roughness, glow, ownGlow };
    int texture(const SurfacePictures& pictures, Use use);
    int textureOf(const Image& image);
    struct Normals {
        int texture;
        double scale;
    };
    Normals normals(const FloatPicture& bump, const glm::vec2& slope);

    tinygltf::Model& model_;
    std::function<int(std::span<const char>)> addView_;
    std::map<std::vector<const void*>, int> made_;
    std::map<std::tuple<const FloatPicture*, float, float>, Normals> normals_;
};

}  // namespace gswarm::gltf
