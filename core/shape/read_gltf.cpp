// glTF 2.0, read by tinygltf: triangles, strips and fans with their nodes' transforms.
#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#include <tiny_gltf.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstring>
#include <glm/gtc/matrix_inverse.hpp>
#include <glm/gtc/quaternion.hpp>
#include <glm/gtc/type_ptr.hpp>
#include <map>
#include <memory>
#include <nlohmann/json.hpp>
#include <optional>
#include <set>

#include "core/base/error.h"
#include "core/base/json_depth.h"
#include "core/base/text.h"
#include "core/shape/read_mesh.h"

namespace gswarm {
namespace {

constexpr int mostDepth = 200, mostJsonDepth = 64;
constexpr std::size_t mostNodes = 100'000;
constexpr const char* instancing = "EXT_mesh_gpu_instancing";

/// Numbers of an accessor where they stand in their buffer. Components beyond those stored are 0, a missing fourth is 1.
class Attribute {
  public:
    Attribute(const tinygltf::Model& model, int accessor) {
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
        width_ = tinygltf::GetNumComponentsInType(static_cast<std::uint32_t>(a.type));
        size_ = tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(a.componentType));
        if (width_ < 1 || width_ > 4 || size_ < 1) throw Error("has numbers of an unknown type");
        const std::size_t element = static_cast<std::size_t>(width_) * static_cast<std::size_t>(size_);
        stride_ = view.byteStride ? view.byteStride : element;
        count = a.count;
        if (count > 3 * mostFileTriangles) throw Error("has more triangles than the limit of 20 million; make a lighter version");
        const std::size_t limit = std::min(bytes.size(), view.byteOffset > bytes.size() ? 0 : view.byteOffset + view.byteLength);
        if (count > 0 && (view.byteOffset > bytes.size() || a.byteOffset > bytes.size() || stride_ > 4096 ||
                          view.byteOffset + a.byteOffset + (count - 1) * stride_ + element > limit))
            throw Error("refers to bytes beyond its end");
        type_ = a.componentType;
        normalized_ = a.normalized;
        from_ = bytes.data() + view.byteOffset + a.byteOffset;
    }
    double at(std::size_t i, int c) const {
        if (c >= width_) return c == 3 ? 1 : 0;
        return read(from_ + i * stride_ + static_cast<std::size_t>(c * size_));
    }
    std::size_t count = 0;

  private:
    double read(const unsigned char* from) const {
        const auto as = [&]<class T>(T v, double most) {
            std::memcpy(&v, from, sizeof v);
            return normalized_ ? std::max(-1.0, static_cast<double>(v) / most) : static_cast<double>(v);
        };
        switch (type_) {
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
    const unsigned char* from_ = nullptr;
    std::size_t stride_ = 0;
    int width_ = 1, size_ = 1, type_ = 0;
    bool normalized_ = false;
};

/// How many vertices and triangles a mesh has, told before any is made.
struct Amount {
    std::size_t vertices = 0, triangles = 0;
};

/// A mesh of the file at its places in the scene.
struct Placed {
    int mesh;
    std::string name;
    std::vector<glm::mat4> at;
};

bool makesTriangles(int mode) {
    return mode == -1 || mode == TINYGLTF_MODE_TRIANGLES || mode == TINYGLTF_MODE_TRIANGLE_STRIP || mode == TINYGLTF_MODE_TRIANGLE_FAN;
}

glm::mat4 matrixOf(const tinygltf::Node& node) {
    if (node.matrix.size() == 16) return glm::mat4(glm::make_mat4(node.matrix.data()));
    glm::mat4 own(1);
    if (node.translation.size() == 3) own[3] = glm::vec4(node.translation[0], node.translation[1], node.translation[2], 1);
    if (node.rotation.size() == 4)
        own = own * glm::mat4_cast(glm::quat(node.rotation[3], node.rotation[0], node.rotation[1], node.rotation[2]));
    if (node.scale.size() == 3)
        for (int c = 0; c < 3; ++c) own[c] *= static_cast<float>(node.scale[static_cast<std::size_t>(c)]);
    return own;
}

struct GltfReader {
    const tinygltf::Model& model;
    std::vector<Placed> placed = {};
    std::map<int, Amount> amounts = {};
    std::map<int, FileMesh> made = {};  ///< each mesh once, in its own space
    Amount total = {};
    std::size_t nodes = 0, lines = 0, skins = 0;
    std::set<int> shapeless = {};  ///< meshes some of whose parts are points or lines

    static int attribute(const tinygltf::Primitive& primitive, const char* name) {
        const auto found = primitive.attributes.find(name);
        return found == primitive.attributes.end() ? -1 : found->second;
    }

    const Amount& amountOf(int mesh) {
        if (mesh < 0 || static_cast<std::size_t>(mesh) >= model.meshes.size()) throw Error("refers to a mesh that is not there");
        const auto [entry, fresh] = amounts.try_emplace(mesh);
        if (!fresh) return entry->second;
        for (const auto& primitive : model.meshes[static_cast<std::size_t>(mesh)].primitives) {
            const int position = attribute(primitive, "POSITION");
            if (position < 0) continue;
            if (!makesTriangles(primitive.mode)) {
                shapeless.insert(mesh);
                continue;
            }
            const std::size_t vertices = Attribute(model, position).count;
            const std::size_t corners = primitive.indices < 0 ? vertices : Attribute(model, primitive.indices).count;
            const bool list = primitive.mode == -1 || primitive.mode == TINYGLTF_MODE_TRIANGLES;
            entry->second.vertices += vertices;
            entry->second.triangles += list ? corners / 3 : corners < 3 ? 0 : corners - 2;
        }
        return entry->second;
    }

    /// The three corners of a triangle among the corners of a list, a strip or a fan; strips turn over at every second.
    static std::array<std::size_t, 3> cornersOf(int mode, std::size_t t) {
        if (mode == TINYGLTF_MODE_TRIANGLE_FAN) return {0, t + 1, t + 2};
        if (mode == TINYGLTF_MODE_TRIANGLE_STRIP) return t % 2 == 0 ? std::array{t, t + 1, t + 2} : std::array{t + 1, t, t + 2};
        return {3 * t, 3 * t + 1, 3 * t + 2};
    }

    void addPrimitive(const tinygltf::Primitive& primitive, FileMesh& to) {
        const int position = attribute(primitive, "POSITION");
        if (!makesTriangles(primitive.mode) || position < 0) return;
        const Attribute places(model, position);
        const auto optional = [&](int accessor) { return accessor < 0 ? std::nullopt : std::optional(Attribute(model, accessor)); };
        const auto normals = optional(attribute(primitive, "NORMAL")), uvs = optional(attribute(primitive, "TEXCOORD_0")),
                   colours = optional(attribute(primitive, "COLOR_0")), indices = optional(primitive.indices);
        for (const auto* other : {&normals, &uvs, &colours})
            if (*other && (*other)->count != places.count) throw Error("has attributes of different lengths");
        const auto first = static_cast<std::uint32_t>(to.mesh.positions.size());
        to.hasNormals = to.hasNormals && normals;
        for (std::size_t i = 0; i < places.count; ++i) {
            // glTF counts v downward.
            addVertex(to.mesh, {places.at(i, 0), places.at(i, 1), places.at(i, 2)},
                      normals ? glm::vec3(normals->at(i, 0), normals->at(i, 1), normals->at(i, 2)) : glm::vec3(0),
                      uvs ? glm::vec2(uvs->at(i, 0), 1 - uvs->at(i, 1)) : glm::vec2(0));
            if (colours || !to.mesh.colours.empty()) {
                to.mesh.colours.resize(to.mesh.positions.size(), glm::vec4(1));
                if (colours) to.mesh.colours.back() = {colours->at(i, 0), colours->at(i, 1), colours->at(i, 2), colours->at(i, 3)};
            }
        }
        const std::size_t count = indices ? indices->count : places.count;
        const bool list = primitive.mode == -1 || primitive.mode == TINYGLTF_MODE_TRIANGLES;
        for (std::size_t t = 0; t < (list ? count / 3 : count < 3 ? 0 : count - 2); ++t) {
            std::uint32_t corner[3];
            const auto corners = cornersOf(primitive.mode, t);
            for (std::size_t c = 0; c < 3; ++c) {
                const double index = indices ? indices->at(corners[c], 0) : static_cast<double>(corners[c]);
                if (!(index >= 0 && index < static_cast<double>(places.count))) throw Error("has a face with a corner that does not exist");
                corner[c] = first + static_cast<std::uint32_t>(index);
            }
            const bool joins = !list && (corner[0] == corner[1] || corner[1] == corner[2] || corner[0] == corner[2]);
            if (!joins) addFace(to.mesh, {corner[0], corner[1], corner[2]});
        }
    }

    const FileMesh& meshOf(int number) {
        const auto [entry, fresh] = made.try_emplace(number);
        if (!fresh) return entry->second;
        entry->second.hasNormals = true;
        for (const auto& primitive : model.meshes[static_cast<std::size_t>(number)].primitives) addPrimitive(primitive, entry->second);
        return entry->second;
    }

    /// Where a node's copies stand against the node; one at its own place where it has none.
    std::vector<glm::mat4> instancesOf(const tinygltf::Node& node) {
        const auto extension = node.extensions.find(instancing);
        if (extension == node.extensions.end()) return {glm::mat4(1)};
        const tinygltf::Value& attributes = extension->second.Get("attributes");
        const auto read = [&](const char* name) -> std::optional<Attribute> {
            if (!attributes.Has(name) || !attributes.Get(name).IsInt()) return std::nullopt;
            return Attribute(model, attributes.Get(name).GetNumberAsInt());
        };
        const auto places = read("TRANSLATION"), turns = read("ROTATION"), sizes = read("SCALE");
        std::size_t count = 0;
        for (const auto* one : {&places, &turns, &sizes})
            if (*one) count = std::max(count, (*one)->count);
        for (const auto* one : {&places, &turns, &sizes})
            if (*one && (*one)->count != count) throw Error("has instances whose places, turns and sizes differ in number");
        if (count > mostFileVertices) throw Error("has more copies than the limit of 20 million; make a lighter version");
        std::vector<glm::mat4> out(count, glm::mat4(1));
        for (std::size_t i = 0; i < count; ++i) {
            if (places) out[i][3] = glm::vec4(places->at(i, 0), places->at(i, 1), places->at(i, 2), 1);
            if (turns) out[i] = out[i] * glm::mat4_cast(glm::quat(turns->at(i, 3), turns->at(i, 0), turns->at(i, 1), turns->at(i, 2)));
            for (int c = 0; sizes && c < 3; ++c) out[i][c] *= static_cast<float>(sizes->at(i, c));
        }
        return out;
    }

    void addNode(int number, const glm::mat4& parent, int depth) {
        if (depth > mostDepth || ++nodes > mostNodes)
            throw Error("has more nodes than the limit of 100 000, or some nested too deeply or in a circle");
        if (number < 0 || static_cast<std::size_t>(number) >= model.nodes.size()) throw Error("refers to a node that is not there");
        const auto& node = model.nodes[static_cast<std::size_t>(number)];
        const glm::mat4 whole = parent * matrixOf(node);
        if (node.mesh >= 0) {
            const Amount& amount = amountOf(node.mesh);
            const std::string& own = model.meshes[static_cast<std::size_t>(node.mesh)].name;
            Placed place{node.mesh, node.name.empty() ? own : node.name, instancesOf(node)};
            const double copies = static_cast<double>(place.at.size());
            if (static_cast<double>(total.vertices) + copies * static_cast<double>(amount.vertices) >
                    static_cast<double>(mostFileVertices) ||
                static_cast<double>(total.triangles) + copies * static_cast<double>(amount.triangles) >
                    static_cast<double>(mostFileTriangles))
                throw Error(
                    "repeats its meshes to more corners or triangles than the limit of 20 million; repeat one of them with a swarm "
                    "instead");
            total.vertices += place.at.size() * amount.vertices;
            total.triangles += place.at.size() * amount.triangles;
            skins += node.skin >= 0 ? 1 : 0;
            for (glm::mat4& at : place.at) at = whole * at;
            if (amount.triangles > 0) placed.push_back(std::move(place));
        }
        for (const int child : node.children) addNode(child, whole, depth + 1);
    }

    static void addCopy(const FileMesh& from, const glm::mat4& at, FileMesh& to) {
        const glm::mat3 normalMatrix = glm::inverseTranspose(glm::mat3(at));
        const std::size_t first = to.mesh.positions.size(), corner = to.mesh.triangles.size();
        append(to.mesh, from.mesh);
        for (std::size_t i = first; i < to.mesh.positions.size(); ++i) {
            to.mesh.positions[i] = glm::vec3(at * glm::vec4(to.mesh.positions[i], 1));
            to.mesh.normals[i] = normalMatrix * to.mesh.normals[i];
        }
        if (glm::determinant(glm::mat3(at)) >= 0) return;
        for (std::size_t t = corner; t + 2 < to.mesh.triangles.size(); t += 3)
            std::swap(to.mesh.triangles[t + 1], to.mesh.triangles[t + 2]);
    }

    MeshFileContent read() {
        if (model.scenes.empty()) {
            // Without scenes everything is shown: each node that hangs from none, with what hangs from it.
            std::set<int> hanging;
            for (const auto& node : model.nodes) hanging.insert(node.children.begin(), node.children.end());
            for (std::size_t n = 0; n < model.nodes.size(); ++n)
                if (!hanging.contains(static_cast<int>(n))) addNode(static_cast<int>(n), glm::mat4(1), 0);
        } else {
            const auto scene = static_cast<std::size_t>(std::clamp(model.defaultScene, 0, static_cast<int>(model.scenes.size()) - 1));
            for (const int node : model.scenes[scene].nodes) addNode(node, glm::mat4(1), 0);
        }
        MeshFileContent content;
        for (const Placed& place : placed) {
            const FileMesh& mesh = meshOf(place.mesh);
            content.meshes.push_back({place.name, {}, mesh.hasNormals});
            for (const glm::mat4& at : place.at) addCopy(mesh, at, content.meshes.back());
        }
        if (!shapeless.empty()) content.leftOut.push_back("points and lines of " + counted(shapeless.size(), "mesh", "meshes"));
        if (skins > 0) content.leftOut.push_back(counted(skins, "skin", "skins"));
        if (!model.animations.empty()) content.leftOut.push_back(counted(model.animations.size(), "animation", "animations"));
        if (model.scenes.size() > 1) content.leftOut.push_back(counted(model.scenes.size() - 1, "further scene", "further scenes"));
        return content;
    }
};

/// The JSON of a text file, or of the first part of a binary one.
std::string_view jsonOf(std::string_view bytes) {
    if (!bytes.starts_with("glTF")) return bytes;
    constexpr std::size_t start = 20;
    if (bytes.size() < start) throw Error("is damaged or not a glTF 2.0 file");
    std::uint32_t length = 0;
    std::memcpy(&length, bytes.data() + 12, 4);
    return bytes.substr(start, length);
}

/// Extensions that change where corners and faces are must be known; those of looks and pictures need not.
void checkExtensions(const std::vector<std::string>& required) {
    for (const std::string& name : required) {
        if (name == "KHR_draco_mesh_compression")
            throw Error("is compressed with Draco (" + name + "), which is not read; export it without compression");
        if (name == "EXT_meshopt_compression" || name == "MESHOPT_compression")
            throw Error("is compressed with meshopt (" + name + "), which is not read; export it without compression");
        const bool looks = name.starts_with("KHR_materials_") || name.starts_with("KHR_texture_") || name.starts_with("EXT_texture_") ||
                           name == "KHR_lights_punctual" || name == "MSFT_texture_dds";
        if (!looks && name != instancing && name != "KHR_mesh_quantization")
            throw Error("requires the extension “" + name + "”, which is not read; export it without that");
    }
}

void checkVersion(const std::string& version) {
    if (!version.starts_with("2.")) throw Error("is glTF of version " + quotedPiece(version) + "; only 2.0 is read, so export it as that");
}

/// Why a file that the library refuses can't be read, where that can be told.
void explainRefusal(std::string_view json) {
    const auto document = nlohmann::json::parse(withoutMark(json), nullptr, false);
    if (!document.is_object()) return;
    if (const auto asset = document.find("asset"); asset != document.end() && asset->is_object())
        checkVersion(asset->value("version", nlohmann::json("")).is_string() ? asset->value("version", std::string()) : "");
    const auto required = document.find("extensionsRequired");
    std::vector<std::string> names;
    if (required != document.end() && required->is_array())
        for (const auto& name : *required)
            if (name.is_string()) names.push_back(name.get<std::string>());
    checkExtensions(names);
}

/// "a%20b.bin" → "a b.bin" (RFC 3986); what is no escape stays as it is.
std::string withoutPercents(const std::string& uri) {
    std::string path;
    for (std::size_t i = 0; i < uri.size(); ++i) {
        int byte = 0;
        const bool escape = uri[i] == '%' && i + 2 < uri.size() &&
                            std::from_chars(uri.data() + i + 1, uri.data() + i + 3, byte, 16).ptr == uri.data() + i + 3;
        path += escape ? static_cast<char>(byte) : uri[i];
        if (escape) i += 2;
    }
    return path;
}

bool isPicture(const std::string& path) {
    static const std::set<std::string> endings = {"png", "jpg", "jpeg", "webp", "ktx2", "ktx", "basis", "dds", "gif", "bmp", "tga"};
    return endings.contains(lowered(path.substr(path.rfind('.') + 1)));
}

/// How the library reads files beside this one: buffers by our own way, pictures not at all.
struct Beside {
    const ReadBeside& read;
    std::string problem = {};

    static bool whole(std::vector<unsigned char>* out, std::string* error, const std::string& path, void* self) {
        auto& beside = *static_cast<Beside*>(self);
        if (isPicture(path)) return false;
        try {
            if (!beside.read) throw Error("keeps its numbers in a second file; save it as one .glb file");
            const std::string bytes = beside.read(path);
            out->assign(bytes.begin(), bytes.end());
            return true;
        } catch (const Error& refused) {
            *error = beside.problem = refused.what();
            return false;
        }
    }
};

}  // namespace

MeshFileContent readGltf(std::string_view bytes, const ReadBeside& beside) {
    const std::string_view json = jsonOf(bytes);
    if (nestedDeeperThan(json, mostJsonDepth)) throw Error("is nested too deeply for a glTF file");
    tinygltf::TinyGLTF loader;
    tinygltf::Model model;
    std::string problem, warning;
    loader.SetImageLoader(
        [](tinygltf::Image*, const int, std::string*, std::string*, int, int, const unsigned char*, int, void*) { return true; }, nullptr);
    Beside files{beside};
    loader.SetFsCallbacks({[](const std::string& path, void*) { return !isPicture(path); },
                           [](const std::string& path, void*) { return path; }, &Beside::whole,
                           [](std::string*, const std::string&, const std::vector<unsigned char>&, void*) { return false; }, &files});
    const auto size = static_cast<unsigned>(bytes.size());
    bool read = false;
    try {
        read = bytes.starts_with("glTF")
                   ? loader.LoadBinaryFromMemory(&model, &problem, &warning, reinterpret_cast<const unsigned char*>(bytes.data()), size)
                   : loader.LoadASCIIFromString(&model, &problem, &warning, bytes.data(), size, "");
    } catch (const std::exception&) {
        // The library's own words say nothing to a person; below it is told what can be told.
    }
    if (!read) {
        if (!files.problem.empty()) throw Error(files.problem);
        explainRefusal(json);
        throw Error("is damaged or not a glTF 2.0 file");
    }
    checkVersion(model.asset.version);
    checkExtensions(model.extensionsRequired);
    return GltfReader{model}.read();
}

std::vector<std::string> buffersBeside(std::string_view bytes) {
    std::vector<std::string> paths;
    const std::string_view json = jsonOf(bytes);
    if (nestedDeeperThan(json, mostJsonDepth)) return paths;
    const auto document = nlohmann::json::parse(withoutMark(json), nullptr, false);
    if (!document.is_object()) return paths;
    const auto buffers = document.find("buffers");
    if (buffers == document.end() || !buffers->is_array()) return paths;
    for (const auto& buffer : *buffers) {
        const auto uri = buffer.is_object() ? buffer.find("uri") : buffer.end();
        if (!buffer.is_object() || uri == buffer.end() || !uri->is_string()) continue;
        const auto text = uri->get<std::string>();
        if (!text.starts_with("data:")) paths.push_back(withoutPercents(text));
    }
    return paths;
}

}  // namespace gswarm
