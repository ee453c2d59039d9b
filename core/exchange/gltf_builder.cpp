#include "core/exchange/gltf_builder.h"

#include <algorithm>
#include <cstring>
#include <sstream>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/exchange/gltf_looks.h"
#include "core/exchange/surface_images.h"

namespace gswarm::gltf {
namespace {

template <class V>
std::vector<float> flat(const std::vector<V>& vectors) {
    std::vector<float> out(vectors.size() * sizeof(V) / 4);
    if (!out.empty()) std::memcpy(out.data(), vectors.data(), out.size() * 4);
    return out;
}

}  // namespace

Builder::Builder() {
    model.asset.version = "2.0";
    model.asset.generator = "Gilded Swarm";
    model.buffers.resize(1);
    model.scenes.resize(1);
    model.defaultScene = 0;
}

int Builder::addView(const void* data, std::size_t size, int target) {
    while (model.buffers[0].data.size() % 4) model.buffers[0].data.push_back(0);
    if (model.buffers[0].data.size() + size > 0xF0000000u) throw Error("The glTF file would pass 4 GiB; export fewer instances or frames.");
    tinygltf::BufferView view;
    view.buffer = 0;
    view.byteOffset = model.buffers[0].data.size();
    view.byteLength = size;
    view.target = target;
    const auto* from = static_cast<const unsigned char*>(data);
    model.buffers[0].data.insert(model.buffers[0].data.end(), from, from + size);
    model.bufferViews.push_back(view);
    return static_cast<int>(model.bufferViews.size()) - 1;
}
int Builder::addAccessor(int view, std::size_t count, int componentType, int type) {
    tinygltf::Accessor accessor;
    accessor.bufferView = view;
    accessor.count = count;
    accessor.componentType = componentType;
    accessor.type = type;
    model.accessors.push_back(accessor);
    return static_cast<int>(model.accessors.size()) - 1;
}
int Builder::addFloats(const std::vector<float>& values, int width, int target) {
    static const int types[] = {0, TINYGLTF_TYPE_SCALAR, TINYGLTF_TYPE_VEC2, TINYGLTF_TYPE_VEC3, TINYGLTF_TYPE_VEC4};
    return addAccessor(addView(values.data(), values.size() * 4, target), values.size() / static_cast<std::size_t>(width),
                       TINYGLTF_COMPONENT_TYPE_FLOAT, types[width]);
}
void Builder::setRange(int accessor, const std::vector<float>& values, int width) {
    tinygltf::Accessor& a = model.accessors[static_cast<std::size_t>(accessor)];
    for (int c = 0; c < width; ++c) {
        float low = values[static_cast<std::size_t>(c)], high = low;
        for (std::size_t i = static_cast<std::size_t>(c); i < values.size(); i += static_cast<std::size_t>(width)) {
            low = std::min(low, values[i]);
            high = std::max(high, values[i]);
        }
        a.minValues.push_back(low);
        a.maxValues.push_back(high);
    }
}
int Builder::addNode(tinygltf::Node node) {
    model.nodes.push_back(std::move(node));
    return static_cast<int>(model.nodes.size()) - 1;
}
void Builder::write(const std::filesystem::path& path) {
    std::ostringstream out;
    tinygltf::TinyGLTF writer;
    if (!writer.WriteGltfSceneToStream(&model, out, false, true)) throw Error("The glTF file could not be put together.");
    writeFileAtomically(path, out.str());
}

Geometry addGeometry(Builder& builder, const Mesh& mesh) {
    Geometry g{};
    g.metresPerUv = metresPerUv(mesh);
    const auto positions = flat(mesh.positions);
    g.positions = builder.addFloats(positions, 3, TINYGLTF_TARGET_ARRAY_BUFFER);
    builder.setRange(g.positions, positions, 3);
    g.normals = builder.addFloats(flat(mesh.normals), 3, TINYGLTF_TARGET_ARRAY_BUFFER);
    std::vector<float> tangents;
    for (const auto& t : mesh.tangents) tangents.insert(tangents.end(), {t.x, t.y, t.z, 1});
    g.tangents = builder.addFloats(tangents, 4, TINYGLTF_TARGET_ARRAY_BUFFER);
    g.colours = mesh.colours.empty() ? -1 : builder.addFloats(flat(mesh.colours), 4, TINYGLTF_TARGET_ARRAY_BUFFER);
    for (const NamedNumbers& named : mesh.numbers) {
        std::string name = "_";
        for (const char c : named.name) name += std::isalnum(static_cast<unsigned char>(c)) ? static_cast<char>(std::toupper(c)) : '_';
        const auto taken = [&] { return std::any_of(g.numbers.begin(), g.numbers.end(), [&](auto& n) { return n.first == name; }); };
        while (taken()) name += '_';
        g.numbers.emplace_back(name, builder.addFloats(named.numbers, 1, TINYGLTF_TARGET_ARRAY_BUFFER));
    }
    std::vector<float> uv;
    for (const auto& t : mesh.uv) uv.insert(uv.end(), {t.x, 1 - t.y});  // glTF counts from the upper edge
    g.uv = builder.addFloats(uv, 2, TINYGLTF_TARGET_ARRAY_BUFFER);
    g.triangles =
        builder.addAccessor(builder.addView(mesh.triangles.data(), mesh.triangles.size() * 4, TINYGLTF_TARGET_ELEMENT_ARRAY_BUFFER),
                            mesh.triangles.size(), TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT, TINYGLTF_TYPE_SCALAR);
    return g;
}

int addMesh(Builder& builder, const Geometry& g, int material, const std::string& name) {
    tinygltf::Primitive primitive;
    primitive.attributes = {{"POSITION", g.positions}, {"NORMAL", g.normals}, {"TANGENT", g.tangents}, {"TEXCOORD_0", g.uv}};
    if (g.colours >= 0) primitive.attributes["COLOR_0"] = g.colours;
    for (const auto& [name, accessor] : g.numbers) primitive.attributes[name] = accessor;
    primitive.indices = g.triangles;
    primitive.material = material;
    primitive.mode = TINYGLTF_MODE_TRIANGLES;
    tinygltf::Mesh mesh;
    mesh.name = name;
    mesh.primitives.push_back(primitive);
    builder.model.meshes.push_back(mesh);
    return static_cast<int>(builder.model.meshes.size()) - 1;
}

int addMaterial(Builder& builder, const Look& look, const glm::vec4& linear, bool seeThrough, const glm::vec2& metresPerUv) {
    if (look.mix) return addMaterial(builder, look.mix->first, linear, seeThrough, metresPerUv);
    tinygltf::Material material = materialOf(builder.model, look.plain, linear, seeThrough);
    builder.pictures.add(material, look, metresPerUv);
    builder.model.materials.push_back(std::move(material));
    return static_cast<int>(builder.model.materials.size()) - 1;
}

tinygltf::Node nodeAt(const SimilarityParts& pose, const std::string& name) {
    tinygltf::Node node;
    node.name = name;
    node.translation = {pose.position.x, pose.position.y, pose.position.z};
    node.rotation = {pose.rotation.x, pose.rotation.y, pose.rotation.z, pose.rotation.w};
    node.scale = {pose.scale.x, pose.scale.y, pose.scale.z};
    return node;
}

void Singles::add(Builder& builder, const Surface& surface, const Look& look, const std::string& name) {
    if (surface.dimmed) return;
    const auto [entry, fresh] = meshes_.try_emplace({surface.shape, surface.meshes.get()}, -1);
    if (fresh) {
        const Geometry geometry = addGeometry(builder, surface.meshes->mesh());
        const int material = addMaterial(builder, look, surface.colour, surface.colour.w < 1, geometry.metresPerUv);
        entry->second = addMesh(builder, geometry, material, name);
    }
    tinygltf::Node node = nodeAt(partsOf(surface.pose), name);
    node.mesh = entry->second;
    builder.model.scenes[0].nodes.push_back(builder.addNode(node));
}

}  // namespace gswarm::gltf
