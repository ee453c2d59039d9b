#pragma once
#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#define TINYGLTF_NO_EXTERNAL_IMAGE
#include <tiny_gltf.h>

#include "core/exchange/gltf_pictures.h"
#include "core/picture/draw_list.h"

/// What stills and baked files are put together from.
namespace gswarm::gltf {

/// A file being built: tinygltf's model with one buffer.
struct Builder {
    tinygltf::Model model;
    Pictures pictures{model, [this](std::span<const char> file) { return addView(file.data(), file.size(), 0); }};

    Builder();
    int addView(const void* data, std::size_t size, int target);
    int addAccessor(int view, std::size_t count, int componentType, int type);
    /// `width` floats an element.
    int addFloats(const std::vector<float>& values, int width, int target = 0);
    void setRange(int accessor, const std::vector<float>& values, int width);
    int addNode(tinygltf::Node node);
    void write(const std::filesystem::path& path);
};

/// A shape's geometry as accessors (the colours' is −1 where it has none), shared by all that use it.
struct Geometry {
    int positions, normals, tangents, uv, colours, triangles;
    glm::vec2 metresPerUv{0};                          ///< for a step in U and in V
    std::vector<std::pair<std::string, int>> numbers;  ///< attributes of the vertices' named values, by names that begin with "_"
};
Geometry addGeometry(Builder& builder, const Mesh& mesh);
/// Those of meshes that several looks show, each once. The meshes must be there as long as this is.
class Geometries {
  public:
    explicit Geometries(Builder& builder) : builder_(builder) {}
    const Geometry& of(const Mesh& mesh) {
        const auto [at, fresh] = made_.try_emplace(&mesh);
        if (fresh) at->second = addGeometry(builder_, mesh);
        return at->second;
    }

  private:
    Builder& builder_;
    std::map<const Mesh*, Geometry> made_;
};
int addMesh(Builder& builder, const Geometry& geometry, int material, const std::string& name);
/// Of a mixed look its first is meant.
int addMaterial(Builder& builder, const Look& look, const glm::vec4& linear, bool seeThrough, const glm::vec2& metresPerUv);

/// A node without a mesh; where it mirrors, its X is scaled by less than 0.
tinygltf::Node nodeAt(const SimilarityParts& pose, const std::string& name);
/// Shapes that are themselves shown become plain nodes; copies of one share its mesh.
class Singles {
  public:
    void add(Builder& builder, const Surface& surface, const Look& look, const std::string& name);

  private:
    std::map<std::pair<ObjectId, const ShapeMeshes*>, int> meshes_;
};

}  // namespace gswarm::gltf
