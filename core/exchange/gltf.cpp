#include "core/exchange/gltf.h"

#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#define TINYGLTF_NO_EXTERNAL_IMAGE
#include <tiny_gltf.h>

#include <cmath>
#include <cstring>
#include <map>
#include <sstream>

#include "core/base/atomic_file.h"
#include "core/base/error.h"

namespace gswarm {
namespace {

/// A file being built: tinygltf's model with one buffer.
struct Builder {
    tinygltf::Model model;
    std::vector<unsigned char>& bytes() { return model.buffers[0].data; }

    Builder() {
        model.asset.version = "2.0";
        model.asset.generator = "Gilded Swarm";
        model.buffers.resize(1);
        model.scenes.resize(1);
        model.defaultScene = 0;
    }

    int addView(const void* data, std::size_t size, int target) {
        while (bytes().size() % 4) bytes().push_back(0);
        if (bytes().size() + size > 0xF0000000u) throw Error("The glTF file would pass 4 GiB; export fewer instances or frames.");
        tinygltf::BufferView view;
        view.buffer = 0;
        view.byteOffset = bytes().size();
        view.byteLength = size;
        view.target = target;
        const auto* from = static_cast<const unsigned char*>(data);
        bytes().insert(bytes().end(), from, from + size);
        model.bufferViews.push_back(view);
        return static_cast<int>(model.bufferViews.size()) - 1;
    }
    int addAccessor(int view, std::size_t count, int componentType, int type) {
        tinygltf::Accessor accessor;
        accessor.bufferView = view;
        accessor.count = count;
        accessor.componentType = componentType;
        accessor.type = type;
        model.accessors.push_back(accessor);
        return static_cast<int>(model.accessors.size()) - 1;
    }
    /// `width` floats an element.
    int addFloats(const std::vector<float>& values, int width, int target = 0) {
        static const int types[] = {0, TINYGLTF_TYPE_SCALAR, TINYGLTF_TYPE_VEC2, TINYGLTF_TYPE_VEC3, TINYGLTF_TYPE_VEC4};
        return addAccessor(addView(values.data(), values.size() * 4, target), values.size() / static_cast<std::size_t>(width),
                           TINYGLTF_COMPONENT_TYPE_FLOAT, types[width]);
    }
    void setRange(int accessor, const std::vector<float>& values, int width) {
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
    int addNode(tinygltf::Node node) {
        model.nodes.push_back(std::move(node));
        return static_cast<int>(model.nodes.size()) - 1;
    }
    void write(const std::filesystem::path& path) {
        std::ostringstream out;
        tinygltf::TinyGLTF writer;
        if (!writer.WriteGltfSceneToStream(&model, out, false, true)) throw Error("The glTF file could not be put together.");
        writeFileAtomically(path, out.str());
    }
};

/// A shape's geometry as accessors (the colours' is −1 where it has none), shared by all that use it.
struct Geometry {
    int positions, normals, tangents, uv, colours, triangles;
};

template <class V>
std::vector<float> flat(const std::vector<V>& vectors) {
    std::vector<float> out(vectors.size() * sizeof(V) / 4);
    if (!out.empty()) std::memcpy(out.data(), vectors.data(), out.size() * 4);
    return out;
}

Geometry addGeometry(Builder& builder, const Mesh& mesh) {
    Geometry g{};
    const auto positions = flat(mesh.positions);
    g.positions = builder.addFloats(positions, 3, TINYGLTF_TARGET_ARRAY_BUFFER);
    builder.setRange(g.positions, positions, 3);
    g.normals = builder.addFloats(flat(mesh.normals), 3, TINYGLTF_TARGET_ARRAY_BUFFER);
    std::vector<float> tangents;
    for (const auto& t : mesh.tangents) tangents.insert(tangents.end(), {t.x, t.y, t.z, 1});
    g.tangents = builder.addFloats(tangents, 4, TINYGLTF_TARGET_ARRAY_BUFFER);
    g.colours = mesh.colours.empty() ? -1 : builder.addFloats(flat(mesh.colours), 4, TINYGLTF_TARGET_ARRAY_BUFFER);
    g.uv = builder.addFloats(flat(mesh.uv), 2, TINYGLTF_TARGET_ARRAY_BUFFER);
    g.triangles =
        builder.addAccessor(builder.addView(mesh.triangles.data(), mesh.triangles.size() * 4, TINYGLTF_TARGET_ELEMENT_ARRAY_BUFFER),
                            mesh.triangles.size(), TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT, TINYGLTF_TYPE_SCALAR);
    return g;
}

int addMesh(Builder& builder, const Geometry& g, int material, const std::string& name) {
    tinygltf::Primitive primitive;
    primitive.attributes = {{"POSITION", g.positions}, {"NORMAL", g.normals}, {"TANGENT", g.tangents}, {"TEXCOORD_0", g.uv}};
    if (g.colours >= 0) primitive.attributes["COLOR_0"] = g.colours;
    primitive.indices = g.triangles;
    primitive.material = material;
    primitive.mode = TINYGLTF_MODE_TRIANGLES;
    tinygltf::Mesh mesh;
    mesh.name = name;
    mesh.primitives.push_back(primitive);
    builder.model.meshes.push_back(mesh);
    return static_cast<int>(builder.model.meshes.size()) - 1;
}

int addMaterial(Builder& builder, const Variant& variant, const glm::vec4& linear) {
    tinygltf::Material material;
    material.pbrMetallicRoughness.baseColorFactor = {linear.x, linear.y, linear.z, linear.w};
    material.pbrMetallicRoughness.metallicFactor = variant.metal;
    material.pbrMetallicRoughness.roughnessFactor = variant.roughness;
    material.doubleSided = true;
    builder.model.materials.push_back(material);
    return static_cast<int>(builder.model.materials.size()) - 1;
}

glm::vec4 linearColour(std::uint32_t c) {
    const auto channel = [c](int shift) { return static_cast<float>(linearFromSrgb((c >> shift & 255) / 255.0)); };
    return {channel(0), channel(8), channel(16), static_cast<float>(c >> 24) / 255.0f};
}

struct Placement {
    glm::vec3 translation;
    glm::quat rotation;
    glm::vec3 scale;
};

/// Position, rotation and scale of a stored matrix; it never holds shear.
Placement placementAt(const Result& result, std::size_t i) {
    const float* m = &result.columns->matrix[12 * i];
    const glm::vec3 x(m[0], m[4], m[8]), y(m[1], m[5], m[9]), z(m[2], m[6], m[10]);
    Placement p{{m[3], m[7], m[11]}, {1, 0, 0, 0}, {glm::length(x), glm::length(y), glm::length(z)}};
    if (p.scale.x > 0 && p.scale.y > 0 && p.scale.z > 0)
        p.rotation = glm::normalize(glm::quat_cast(glm::mat3(x / p.scale.x, y / p.scale.y, z / p.scale.z)));
    return p;
}

tinygltf::Node swarmNode(const Scene& scene, const Result& result) {
    tinygltf::Node node;
    node.name = scene.at(result.swarm).name;
    node.translation = {result.pose.position.x, result.pose.position.y, result.pose.position.z};
    node.rotation = {result.pose.rotation.x, result.pose.rotation.y, result.pose.rotation.z, result.pose.rotation.w};
    node.scale = {result.pose.scale, result.pose.scale, result.pose.scale};
    return node;
}

void addInstanced(Builder& builder, const Scene& scene, const Result& result, std::uint16_t variantNumber,
                  const std::vector<std::uint32_t>& instances, tinygltf::Node& parent) {
    std::vector<float> translations, rotations, scales, colours;
    for (const std::size_t i : instances) {
        const Placement p = placementAt(result, i);
        const glm::vec4 c = linearColour(result.columns->colour[i]);
        translations.insert(translations.end(), {p.translation.x, p.translation.y, p.translation.z});
        rotations.insert(rotations.end(), {p.rotation.x, p.rotation.y, p.rotation.z, p.rotation.w});
        scales.insert(scales.end(), {p.scale.x, p.scale.y, p.scale.z});
        colours.insert(colours.end(), {c.x, c.y, c.z, c.w});
    }
    if (translations.empty()) return;
    const Variant& variant = result.variants[variantNumber];
    tinygltf::Value::Object attributes;
    attributes["TRANSLATION"] = tinygltf::Value(builder.addFloats(translations, 3));
    attributes["ROTATION"] = tinygltf::Value(builder.addFloats(rotations, 4));
    attributes["SCALE"] = tinygltf::Value(builder.addFloats(scales, 3));
    attributes["_COLOR_0"] = tinygltf::Value(builder.addFloats(colours, 4));
    tinygltf::Value::Object extension;
    extension["attributes"] = tinygltf::Value(attributes);
    tinygltf::Node node;
    const std::string& name = scene.at(variant.shape).name;
    node.name = name;
    node.mesh = addMesh(builder, addGeometry(builder, variant.meshes->mesh()), addMaterial(builder, variant, variant.colour), name);
    node.extensions["EXT_mesh_gpu_instancing"] = tinygltf::Value(extension);
    parent.children.push_back(builder.addNode(node));
}

/// Shapes that are themselves shown become plain nodes.
void addBackdrops(Builder& builder, const Scene& scene, const Result& result) {
    for (const Backdrop& backdrop : result.backdrops) {
        if (backdrop.dimmed || backdrop.meshes->mesh().triangles.empty()) continue;
        const Variant plain;
        const WorldPose& pose = backdrop.pose;
        tinygltf::Node node;
        node.name = scene.at(backdrop.shape).name;
        node.translation = {pose.position.x, pose.position.y, pose.position.z};
        node.rotation = {pose.rotation.x, pose.rotation.y, pose.rotation.z, pose.rotation.w};
        node.scale = {pose.scale, pose.scale, pose.scale};
        node.mesh =
            addMesh(builder, addGeometry(builder, backdrop.meshes->mesh()), addMaterial(builder, plain, backdrop.colour), node.name);
        builder.model.scenes[0].nodes.push_back(builder.addNode(node));
    }
}

// ---- baked

/// The keys of one instance. Channels are written only where they change.
struct Keys {
    std::vector<float> translation, rotation, scale;
    std::uint16_t variant = notShown;  ///< what it repeats, once it has been shown
};

bool changes(const std::vector<float>& values, std::size_t width) {
    for (std::size_t i = width; i < values.size(); ++i)
        if (values[i] != values[i % width]) return true;
    return false;
}

void addKeys(Keys& keys, const Placement& p) {
    glm::quat q = p.rotation;
    if (keys.rotation.size() >= 4) {  // the shorter way between two keys
        const float* last = &keys.rotation[keys.rotation.size() - 4];
        if (q.x * last[0] + q.y * last[1] + q.z * last[2] + q.w * last[3] < 0) q = -q;
    }
    keys.translation.insert(keys.translation.end(), {p.translation.x, p.translation.y, p.translation.z});
    keys.rotation.insert(keys.rotation.end(), {q.x, q.y, q.z, q.w});
    keys.scale.insert(keys.scale.end(), {p.scale.x, p.scale.y, p.scale.z});
}

/// Materials of one shape by rounded colour: at most 256.
struct Palette {
    Geometry geometry;
    std::map<std::uint32_t, int> meshes;
};

int paletteMesh(Builder& builder, Palette& palette, const Variant& variant, std::uint32_t colour, const std::string& name) {
    const auto rounded = [colour](int shift, std::uint32_t steps) { return ((colour >> shift & 255) * steps + 127) / 255 * 255 / steps; };
    const std::uint32_t c = rounded(0, 7) | rounded(8, 7) << 8 | rounded(16, 3) << 16 | 255u << 24;
    const auto [entry, fresh] = palette.meshes.try_emplace(c, 0);
    if (fresh) entry->second = addMesh(builder, palette.geometry, addMaterial(builder, variant, linearColour(c)), name);
    return entry->second;
}

void addBakedSwarm(Builder& builder, const Scene& scene, const Result& first, const std::vector<Keys>& keys, int times,
                   tinygltf::Animation& animation) {
    tinygltf::Node parent = swarmNode(scene, first);
    addBackdrops(builder, scene, first);
    std::vector<Palette> palettes;
    for (const Variant& v : first.variants) palettes.push_back({addGeometry(builder, v.meshes->mesh()), {}});
    for (std::size_t i = 0; i < keys.size(); ++i) {
        const Keys& k = keys[i];
        if (k.variant == notShown) continue;
        const std::size_t v = k.variant;
        const Variant& variant = first.variants[v];
        tinygltf::Node node;
        node.name = scene.at(variant.shape).name + " " + std::to_string(i);
        node.mesh = paletteMesh(builder, palettes[v], variant, first.columns->colour[i], scene.at(variant.shape).name);
        node.translation = {k.translation[0], k.translation[1], k.translation[2]};
        node.rotation = {k.rotation[0], k.rotation[1], k.rotation[2], k.rotation[3]};
        node.scale = {k.scale[0], k.scale[1], k.scale[2]};
        const int number = builder.addNode(node);
        parent.children.push_back(number);
        const auto animate = [&](const std::vector<float>& values, int width, const char* path) {
            if (!changes(values, static_cast<std::size_t>(width))) return;
            tinygltf::AnimationSampler sampler;
            sampler.input = times;
            sampler.output = builder.addFloats(values, width);
            sampler.interpolation = "LINEAR";
            animation.samplers.push_back(sampler);
            tinygltf::AnimationChannel channel;
            channel.sampler = static_cast<int>(animation.samplers.size()) - 1;
            channel.target_node = number;
            channel.target_path = path;
            animation.channels.push_back(channel);
        };
        animate(k.translation, 3, "translation");
        animate(k.rotation, 4, "rotation");
        animate(k.scale, 3, "scale");
    }
    builder.model.scenes[0].nodes.push_back(builder.addNode(parent));
}

}  // namespace

void writeGltfStill(const Scene& scene, const std::vector<std::shared_ptr<const Result>>& swarms, const std::filesystem::path& path,
                    Progress& progress) {
    Builder builder;
    bool instanced = false;
    for (const auto& result : swarms) {
        progress.check();
        if (!result->shown || result->visible == 0) continue;
        tinygltf::Node parent = swarmNode(scene, *result);
        const auto byVariant = instancesByVariant(*result);
        for (std::size_t v = 0; v < byVariant.size(); ++v)
            addInstanced(builder, scene, *result, static_cast<std::uint16_t>(v), byVariant[v], parent);
        addBackdrops(builder, scene, *result);
        builder.model.scenes[0].nodes.push_back(builder.addNode(parent));
        instanced = true;
    }
    if (!instanced)
        throw Error("Nothing is shown at this frame, so there is nothing to export; switch a swarm on or choose another frame.");
    builder.model.extensionsUsed = {"EXT_mesh_gpu_instancing"};
    builder.model.extensionsRequired = {"EXT_mesh_gpu_instancing"};
    builder.write(path);
    progress.report(1);
}

void writeGltfBaked(const Scene& scene, const std::function<std::vector<std::shared_ptr<const Result>>(int)>& at, const BakeRange& range,
                    const std::filesystem::path& path, Progress& progress) {
    Builder builder;
    std::vector<float> seconds;
    std::vector<std::shared_ptr<const Result>> first;
    std::vector<std::vector<Keys>> keys;
    for (int frame = range.first; frame <= range.last; ++frame) {
        progress.check();
        const auto results = at(frame);
        if (frame == range.first) {
            double total = 0;
            for (const auto& r : results) total += r->count;
            const double needed = total * (range.last - range.first + 1);
            if (needed > mostBakedKeys)
                throw Error("Baking " + std::to_string(static_cast<long long>(total)) + " instances over " +
                            std::to_string(range.last - range.first + 1) + " frames needs " +
                            std::to_string(static_cast<long long>(needed)) +
                            " keys, more than the limit of 30 million; export fewer frames.");
            // The evaluator recycles its columns once they are let go, so the first frame is held on to.
            first = results;
            for (const auto& r : results) keys.emplace_back(static_cast<std::size_t>(r->count));
        }
        seconds.push_back(static_cast<float>((frame - range.first) / range.rate));
        for (std::size_t s = 0; s < keys.size(); ++s) {
            if (s >= results.size() || static_cast<std::size_t>(results[s]->count) != keys[s].size())
                throw Error("The count of instances of “" + scene.at(first[s]->swarm).name +
                            "” changes between frames; baked nodes need a steady one. Use the instanced export for stills.");
            for (std::size_t i = 0; i < keys[s].size(); ++i) {
                addKeys(keys[s][i], placementAt(*results[s], i));
                if (keys[s][i].variant == notShown) keys[s][i].variant = results[s]->columns->variant[i];
            }
        }
        progress.report(0.9 * (frame - range.first + 1) / (range.last - range.first + 1));
    }
    if (first.empty()) throw Error("Nothing is shown, so there is nothing to export; switch a swarm on.");
    const int times = builder.addFloats(seconds, 1);
    builder.setRange(times, seconds, 1);
    tinygltf::Animation animation;
    animation.name = "Project";
    for (std::size_t s = 0; s < first.size(); ++s) {
        progress.check();
        addBakedSwarm(builder, scene, *first[s], keys[s], times, animation);
    }
    if (!animation.channels.empty()) builder.model.animations.push_back(animation);
    builder.write(path);
    progress.report(1);
}

}  // namespace gswarm
