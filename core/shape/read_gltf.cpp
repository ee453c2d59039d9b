// glTF 2.0, read by tinygltf: triangles with their nodes' transforms.
#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#define TINYGLTF_NO_EXTERNAL_IMAGE
#include <tiny_gltf.h>

#include <algorithm>
#include <cstring>
#include <glm/gtc/matrix_inverse.hpp>
#include <glm/gtc/quaternion.hpp>
#include <glm/gtc/type_ptr.hpp>
#include <memory>

#include "core/base/error.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

constexpr int mostDepth = 200;
constexpr std::size_t mostNodes = 100'000;

/// One attribute as floats; components beyond those stored are 0, a missing fourth is 1.
class Attribute {
  public:
    Attribute(const tinygltf::Model& model, int accessor, int components) {
        if (accessor < 0 || static_cast<std::size_t>(accessor) >= model.accessors.size())
            throw Error("refers to numbers that are not there");
        const auto& a = model.accessors[static_cast<std::size_t>(accessor)];
        if (a.sparse.isSparse) throw Error("stores numbers sparsely, which is not read; export it without that");
        if (a.bufferView < 0 || static_cast<std::size_t>(a.bufferView) >= model.bufferViews.size())
            throw Error("refers to bytes that are not there");
        const auto& view = model.bufferViews[static_cast<std::size_t>(a.bufferView)];
        if (view.buffer < 0 || static_cast<std::size_t>(view.buffer) >= model.buffers.size())
            throw Error("refers to bytes that are not there");
        const auto& bytes = model.buffers[static_cast<std::size_t>(view.buffer)].data;
        const int width = tinygltf::GetNumComponentsInType(static_cast<std::uint32_t>(a.type));
        const int size = tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(a.componentType));
        if (width < 1 || width > 4 || size < 1) throw Error("has numbers of an unknown type");
        const std::size_t element = static_cast<std::size_t>(width) * static_cast<std::size_t>(size);
        const std::size_t stride = view.byteStride ? view.byteStride : element;
        count = a.count;
        if (count > 3 * mostFileTriangles) throw Error("has more than 20 million triangles; make a lighter version");
        const std::size_t limit = std::min(bytes.size(), view.byteOffset > bytes.size() ? 0 : view.byteOffset + view.byteLength);
        if (count > 0 && (view.byteOffset > bytes.size() || a.byteOffset > bytes.size() || stride > 4096 ||
                          view.byteOffset + a.byteOffset + (count - 1) * stride + element > limit))
            throw Error("refers to bytes beyond its end");
        width_ = components;
        values_.assign(count * static_cast<std::size_t>(components), 0);
        for (std::size_t i = 0; i < count; ++i)
            for (int c = 0; c < components; ++c) {
                const unsigned char* from = bytes.data() + view.byteOffset + a.byteOffset + i * stride + static_cast<std::size_t>(c * size);
                values_[i * static_cast<std::size_t>(components) + static_cast<std::size_t>(c)] = c < width ? read(from, a)
                                                                                                  : c == 3  ? 1
                                                                                                            : 0;
            }
    }
    double at(std::size_t i, int c) const { return values_[i * static_cast<std::size_t>(width_) + static_cast<std::size_t>(c)]; }
    std::size_t count = 0;

  private:
    static double read(const unsigned char* from, const tinygltf::Accessor& a) {
        const auto as = [&]<class T>(T v, double most) {
            std::memcpy(&v, from, sizeof v);
            return a.normalized ? static_cast<double>(v) / most : static_cast<double>(v);
        };
        switch (a.componentType) {
            case TINYGLTF_COMPONENT_TYPE_BYTE:
                return as(std::int8_t{}, 127);
            case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE:
                return as(std::uint8_t{}, 255);
            case TINYGLTF_COMPONENT_TYPE_SHORT:
                return as(std::int16_t{}, 32767);
            case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT:
                return as(std::uint16_t{}, 65535);
            case TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT:
                return as(std::uint32_t{}, 1);
            case TINYGLTF_COMPONENT_TYPE_FLOAT:
                return as(float{}, 1);
            default:
                throw Error("has numbers of an unknown type");
        }
    }
    int width_ = 1;
    std::vector<double> values_;
};

struct GltfReader {
    const tinygltf::Model& model;
    std::vector<FileMesh> out;
    std::size_t triangles = 0, nodes = 0;

    void addPrimitive(const tinygltf::Primitive& primitive, const glm::mat4& transform, FileMesh& to) {
        if (primitive.mode != TINYGLTF_MODE_TRIANGLES && primitive.mode != -1) return;
        const auto find = [&](const char* name) {
            const auto found = primitive.attributes.find(name);
            return found == primitive.attributes.end() ? -1 : found->second;
        };
        const int position = find("POSITION"), normal = find("NORMAL"), uv = find("TEXCOORD_0"), colour = find("COLOR_0");
        if (position < 0) return;
        const Attribute places(model, position, 3);
        const auto optional = [&](int accessor, int width) {
            return accessor < 0 ? nullptr : std::make_unique<Attribute>(model, accessor, width);
        };
        const auto normals = optional(normal, 3), uvs = optional(uv, 2), colours = optional(colour, 4);
        for (const auto* other : {normals.get(), uvs.get(), colours.get()})
            if (other && other->count != places.count) throw Error("has attributes of different lengths");
        const auto first = static_cast<std::uint32_t>(to.mesh.positions.size());
        const glm::mat3 normalMatrix = glm::inverseTranspose(glm::mat3(transform));
        const bool mirrored = glm::determinant(glm::mat3(transform)) < 0;
        to.hasNormals = to.hasNormals && normals;
        for (std::size_t i = 0; i < places.count; ++i) {
            const glm::vec4 p(places.at(i, 0), places.at(i, 1), places.at(i, 2), 1);
            const glm::vec3 n = normals ? glm::vec3(normals->at(i, 0), normals->at(i, 1), normals->at(i, 2)) : glm::vec3(0);
            // glTF counts v downward.
            addVertex(to.mesh, glm::vec3(transform * p), normalMatrix * n,
                      uvs ? glm::vec2(uvs->at(i, 0), 1 - uvs->at(i, 1)) : glm::vec2(0));
            if (colours || !to.mesh.colours.empty()) {
                to.mesh.colours.resize(to.mesh.positions.size(), glm::vec4(1));
                if (colours) to.mesh.colours.back() = {colours->at(i, 0), colours->at(i, 1), colours->at(i, 2), colours->at(i, 3)};
            }
        }
        const auto indices = optional(primitive.indices, 1);
        const std::size_t count = indices ? indices->count : places.count;
        triangles += count / 3;
        if (triangles > mostFileTriangles) throw Error("has more than 20 million triangles; make a lighter version");
        for (std::size_t k = 0; k + 2 < count; k += 3) {
            std::uint32_t corner[3];
            for (std::size_t c = 0; c < 3; ++c) {
                const double index = indices ? indices->at(k + c, 0) : static_cast<double>(k + c);
                if (!(index >= 0 && index < static_cast<double>(places.count))) throw Error("has a face with a corner that does not exist");
                corner[c] = first + static_cast<std::uint32_t>(index);
            }
            addFace(to.mesh, {corner[0], mirrored ? corner[2] : corner[1], mirrored ? corner[1] : corner[2]});
        }
    }

    void addNode(int number, const glm::mat4& parent, int depth) {
        if (depth > mostDepth || ++nodes > mostNodes) throw Error("has nodes nested too deeply or in a circle");
        if (number < 0 || static_cast<std::size_t>(number) >= model.nodes.size()) throw Error("refers to a node that is not there");
        const auto& node = model.nodes[static_cast<std::size_t>(number)];
        glm::mat4 own(1);
        if (node.matrix.size() == 16) {
            own = glm::mat4(glm::make_mat4(node.matrix.data()));
        } else {
            if (node.translation.size() == 3) own[3] = glm::vec4(node.translation[0], node.translation[1], node.translation[2], 1);
            if (node.rotation.size() == 4)
                own = own * glm::mat4_cast(glm::quat(node.rotation[3], node.rotation[0], node.rotation[1], node.rotation[2]));
            if (node.scale.size() == 3)
                for (int c = 0; c < 3; ++c) own[c] *= static_cast<float>(node.scale[static_cast<std::size_t>(c)]);
        }
        const glm::mat4 whole = parent * own;
        if (node.mesh >= 0) {
            if (static_cast<std::size_t>(node.mesh) >= model.meshes.size()) throw Error("refers to a mesh that is not there");
            const auto& mesh = model.meshes[static_cast<std::size_t>(node.mesh)];
            FileMesh made{node.name.empty() ? mesh.name : node.name, {}, true};
            for (const auto& primitive : mesh.primitives) addPrimitive(primitive, whole, made);
            if (!made.mesh.triangles.empty()) out.push_back(std::move(made));
        }
        for (const int child : node.children) addNode(child, whole, depth + 1);
    }
};

}  // namespace

std::vector<FileMesh> readGltf(const std::string& bytes) {
    tinygltf::TinyGLTF loader;
    tinygltf::Model model;
    std::string problem, warning;
    // Pictures are not needed, and files beside this one are not opened.
    loader.SetImageLoader(
        [](tinygltf::Image*, const int, std::string*, std::string*, int, int, const unsigned char*, int, void*) { return true; }, nullptr);
    const tinygltf::FsCallbacks none{[](const std::string&, void*) { return false; }, [](const std::string& path, void*) { return path; },
                                     [](std::vector<unsigned char>*, std::string*, const std::string&, void*) { return false; },
                                     [](std::string*, const std::string&, const std::vector<unsigned char>&, void*) { return false; },
                                     nullptr};
    loader.SetFsCallbacks(none);
    const bool binary = bytes.starts_with("glTF");
    const auto size = static_cast<unsigned>(bytes.size());
    const bool read =
        binary ? loader.LoadBinaryFromMemory(&model, &problem, &warning, reinterpret_cast<const unsigned char*>(bytes.data()), size)
               : loader.LoadASCIIFromString(&model, &problem, &warning, bytes.data(), size, "");
    if (!read)
        throw Error(problem.find(".bin") != std::string::npos ? "keeps its numbers in a second file; save it as one .glb file"
                                                              : "is damaged or not a glTF 2.0 file");
    GltfReader reader{model, {}, 0, 0};
    if (model.scenes.empty()) {
        for (std::size_t n = 0; n < model.nodes.size(); ++n) reader.addNode(static_cast<int>(n), glm::mat4(1), 0);
    } else {
        const auto scene = static_cast<std::size_t>(std::clamp(model.defaultScene, 0, static_cast<int>(model.scenes.size()) - 1));
        for (const int node : model.scenes[scene].nodes) reader.addNode(node, glm::mat4(1), 0);
    }
    return std::move(reader.out);
}

}  // namespace gswarm
