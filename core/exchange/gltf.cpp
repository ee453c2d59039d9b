#include "core/exchange/gltf.h"

#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#define TINYGLTF_NO_EXTERNAL_IMAGE
#include <tiny_gltf.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <set>
#include <sstream>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/exchange/gltf_looks.h"
#include "core/exchange/gltf_pictures.h"

namespace gswarm {
namespace {

/// A file being built: tinygltf's model with one buffer.
struct Builder {
    tinygltf::Model model;
    gltf::Pictures pictures{model, [this](std::span<const char> file) { return addView(file.data(), file.size(), 0); }};
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
    primitive.indices = g.triangles;
    primitive.material = material;
    primitive.mode = TINYGLTF_MODE_TRIANGLES;
    tinygltf::Mesh mesh;
    mesh.name = name;
    mesh.primitives.push_back(primitive);
    builder.model.meshes.push_back(mesh);
    return static_cast<int>(builder.model.meshes.size()) - 1;
}

/// Of a mixed look its first is meant.
int addMaterial(Builder& builder, const Look& look, const glm::vec4& linear, bool seeThrough) {
    if (look.mix) return addMaterial(builder, look.mix->first, linear, seeThrough);
    tinygltf::Material material = gltf::materialOf(builder.model, look.plain, linear, seeThrough);
    builder.pictures.add(material, look);
    builder.model.materials.push_back(std::move(material));
    return static_cast<int>(builder.model.materials.size()) - 1;
}

tinygltf::Node nodeAt(const WorldPose& pose, const std::string& name) {
    tinygltf::Node node;
    node.name = name;
    node.translation = {pose.position.x, pose.position.y, pose.position.z};
    node.rotation = {pose.rotation.x, pose.rotation.y, pose.rotation.z, pose.rotation.w};
    node.scale = {pose.scale, pose.scale, pose.scale};
    return node;
}

void addInstanced(Builder& builder, const Surface& surface, const Look& look, const std::string& name, tinygltf::Node& parent) {
    std::vector<float> translations, rotations, scales, colours;
    bool seeThrough = surface.colour.w < 1;
    for (const std::size_t i : surface.instances) {
        const Placement& p = surface.swarm->placements[i];
        const glm::vec4 c = linearColour(surface.swarm->columns->colour[i]);
        seeThrough = seeThrough || c.w < 1;
        translations.insert(translations.end(), {p.translation.x, p.translation.y, p.translation.z});
        rotations.insert(rotations.end(), {p.rotation.x, p.rotation.y, p.rotation.z, p.rotation.w});
        scales.insert(scales.end(), {p.scale.x, p.scale.y, p.scale.z});
        colours.insert(colours.end(), {c.x, c.y, c.z, c.w});
    }
    tinygltf::Value::Object attributes;
    attributes["TRANSLATION"] = tinygltf::Value(builder.addFloats(translations, 3));
    attributes["ROTATION"] = tinygltf::Value(builder.addFloats(rotations, 4));
    attributes["SCALE"] = tinygltf::Value(builder.addFloats(scales, 3));
    attributes["_COLOR_0"] = tinygltf::Value(builder.addFloats(colours, 4));
    tinygltf::Value::Object extension;
    extension["attributes"] = tinygltf::Value(attributes);
    tinygltf::Node node;
    node.name = name;
    const int material = addMaterial(builder, look, surface.colour, seeThrough);
    node.mesh = addMesh(builder, addGeometry(builder, surface.meshes->mesh()), material, name);
    node.extensions["EXT_mesh_gpu_instancing"] = tinygltf::Value(extension);
    parent.children.push_back(builder.addNode(node));
}

/// Shapes that are themselves shown become plain nodes.
void addSingle(Builder& builder, const Surface& surface, const Look& look, const std::string& name) {
    if (surface.dimmed) return;
    tinygltf::Node node = nodeAt(surface.pose, name);
    const int material = addMaterial(builder, look, surface.colour, surface.colour.w < 1);
    node.mesh = addMesh(builder, addGeometry(builder, surface.meshes->mesh()), material, name);
    builder.model.scenes[0].nodes.push_back(builder.addNode(node));
}

// ---- baked

/// The keys of one instance. Channels are written only where they change.
struct Keys {
    std::vector<float> translation, rotation, scale;
    std::vector<std::uint16_t> variant;  ///< what it repeats at each frame, notShown where it is hidden
    std::uint32_t colour = 0;            ///< when it is first shown
    bool everShown() const { return !translation.empty(); }
};

bool changes(const std::vector<float>& values, std::size_t width) {
    for (std::size_t i = width; i < values.size(); ++i)
        if (values[i] != values[i % width]) return true;
    return false;
}

/// The keys of one more frame. While it is hidden an instance stays where it was seen last, or will be seen first.
void addKeys(Keys& keys, const Placement& p, std::uint16_t variant, std::uint32_t colour) {
    const std::size_t frames = keys.variant.size();
    keys.variant.push_back(variant);
    const auto repeat = [](std::vector<float>& values, std::size_t width) {
        for (std::size_t c = 0; c < width; ++c) values.push_back(values[values.size() - width]);
    };
    if (variant == notShown) {
        if (keys.everShown()) repeat(keys.translation, 3), repeat(keys.rotation, 4), repeat(keys.scale, 3);
        return;
    }
    glm::quat q = p.rotation;
    if (!keys.everShown()) keys.colour = colour;
    if (keys.everShown()) {  // the shorter way between two keys
        const float* last = &keys.rotation[keys.rotation.size() - 4];
        if (q.x * last[0] + q.y * last[1] + q.z * last[2] + q.w * last[3] < 0) q = -q;
    }
    for (std::size_t times = keys.everShown() ? 1 : frames + 1; times > 0; --times) {
        keys.translation.insert(keys.translation.end(), {p.translation.x, p.translation.y, p.translation.z});
        keys.rotation.insert(keys.rotation.end(), {q.x, q.y, q.z, q.w});
        keys.scale.insert(keys.scale.end(), {p.scale.x, p.scale.y, p.scale.z});
    }
}

/// 1 at the frames at which an instance repeats the variant, three numbers a frame: what is scaled by 0 is not drawn.
std::vector<float> shownAs(const Keys& keys, std::uint16_t variant) {
    std::vector<float> scale;
    for (const std::uint16_t v : keys.variant) scale.insert(scale.end(), 3, v == variant ? 1.0f : 0.0f);
    return scale;
}

/// Materials of one shape by rounded colour: at most 256 opaque ones, and as many at each of three opacities.
struct Palette {
    Geometry geometry;
    std::map<std::uint32_t, int> meshes;
};

int paletteMesh(Builder& builder, Palette& palette, const Look& look, std::uint32_t colour, const std::string& name) {
    const auto rounded = [colour](int shift, std::uint32_t steps) { return ((colour >> shift & 255) * steps + 127) / 255 * 255 / steps; };
    const std::uint32_t c = rounded(0, 7) | rounded(8, 7) << 8 | rounded(16, 3) << 16 | rounded(24, 3) << 24;
    const auto [entry, fresh] = palette.meshes.try_emplace(c, 0);
    if (fresh) entry->second = addMesh(builder, palette.geometry, addMaterial(builder, look, linearColour(c), c >> 24 != 255), name);
    return entry->second;
}

/// One swarm while its frames come in.
struct BakedSwarm {
    std::shared_ptr<const Result> first;  ///< held on to: the evaluator recycles columns once they are let go
    std::vector<Keys> keys;
    std::vector<bool> seen;  ///< at the frame at hand
};

void addFrame(BakedSwarm& swarm, const DrawList& list) {
    swarm.seen.assign(swarm.keys.size(), false);
    for (const Surface& surface : list.surfaces) {
        if (!surface.swarm || surface.swarm->swarm != swarm.first->swarm) continue;
        const Result& now = *surface.swarm;
        for (const std::uint32_t i : surface.instances) {
            swarm.seen[i] = true;
            addKeys(swarm.keys[i], now.placements[i], now.columns->variant[i], now.columns->colour[i]);
        }
    }
    for (std::size_t i = 0; i < swarm.keys.size(); ++i)
        if (!swarm.seen[i]) addKeys(swarm.keys[i], {}, notShown, 0);
}

void addBakedSwarm(Builder& builder, const Scene& scene, const BakedSwarm& swarm, int times, tinygltf::Animation& animation) {
    const Result& first = *swarm.first;
    tinygltf::Node parent = nodeAt(first.pose, scene.at(first.swarm).name);
    std::vector<Palette> palettes;
    for (const Variant& v : first.variants) palettes.push_back({v.lamp ? Geometry{} : addGeometry(builder, v.meshes->mesh()), {}});
    const auto animate = [&](int node, const std::vector<float>& values, int width, const char* path, const char* interpolation) {
        if (!changes(values, static_cast<std::size_t>(width))) return;
        tinygltf::AnimationSampler sampler;
        sampler.input = times;
        sampler.output = builder.addFloats(values, width);
        sampler.interpolation = interpolation;
        animation.samplers.push_back(sampler);
        tinygltf::AnimationChannel channel;
        channel.sampler = static_cast<int>(animation.samplers.size()) - 1;
        channel.target_node = node;
        channel.target_path = path;
        animation.channels.push_back(channel);
    };
    for (std::size_t i = 0; i < swarm.keys.size(); ++i) {
        const Keys& k = swarm.keys[i];
        if (!k.everShown()) continue;
        const std::set<std::uint16_t> taken(k.variant.begin(), k.variant.end());
        const auto meshOf = [&](std::uint16_t v) {
            const Variant& variant = first.variants[v];
            return paletteMesh(builder, palettes[v], variant.look, k.colour, scene.at(variant.shape).name);
        };
        tinygltf::Node node;
        node.name = scene.at(first.variants[*taken.begin()].shape).name + " " + std::to_string(i);
        node.translation = {k.translation[0], k.translation[1], k.translation[2]};
        node.rotation = {k.rotation[0], k.rotation[1], k.rotation[2], k.rotation[3]};
        node.scale = {k.scale[0], k.scale[1], k.scale[2]};
        // What is sometimes hidden, or repeats several shapes, has a node for each of them that is there or not.
        if (taken.size() == 1) node.mesh = meshOf(*taken.begin());
        for (const std::uint16_t v : taken) {
            if (taken.size() == 1 || v == notShown) continue;
            const std::vector<float> shown = shownAs(k, v);
            tinygltf::Node part;
            part.name = scene.at(first.variants[v].shape).name;
            part.mesh = meshOf(v);
            part.scale = {shown[0], shown[0], shown[0]};
            const int number = builder.addNode(part);
            node.children.push_back(number);
            animate(number, shown, 3, "scale", "STEP");
        }
        const int number = builder.addNode(node);
        parent.children.push_back(number);
        animate(number, k.translation, 3, "translation", "LINEAR");
        animate(number, k.rotation, 4, "rotation", "LINEAR");
        animate(number, k.scale, 3, "scale", "LINEAR");
    }
    builder.model.scenes[0].nodes.push_back(builder.addNode(parent));
}

}  // namespace

void writeGltfStill(const Scene& scene, const DrawList& list, const Setting& setting, const std::filesystem::path& path,
                    Progress& progress) {
    Builder builder;
    std::vector<std::pair<ObjectId, tinygltf::Node>> swarms;
    for (const Surface& surface : list.surfaces) {
        progress.check();
        const Look& look = list.looks[static_cast<std::size_t>(surface.look)];
        const std::string& name = scene.at(surface.shape).name;
        if (!surface.swarm) {
            addSingle(builder, surface, look, name);
            continue;
        }
        const ObjectId swarm = surface.swarm->swarm;
        if (swarms.empty() || swarms.back().first != swarm) swarms.push_back({swarm, nodeAt(surface.pose, scene.at(swarm).name)});
        addInstanced(builder, surface, look, name, swarms.back().second);
    }
    if (swarms.empty())
        throw Error("Nothing is shown at this frame, so there is nothing to export; switch a swarm on or choose another frame.");
    for (const auto& [swarm, node] : swarms) builder.model.scenes[0].nodes.push_back(builder.addNode(node));
    gltf::addSurroundings(builder.model, setting, allLamps(setting.lamps, list), pictureAspect(scene));
    gltf::use(builder.model, "EXT_mesh_gpu_instancing");
    builder.model.extensionsRequired = {"EXT_mesh_gpu_instancing"};
    builder.write(path);
    progress.report(1);
}

namespace {

/// Makes room for a swarm that is met for the first time: hidden at all frames before.
void meet(std::map<ObjectId, BakedSwarm>& swarms, const Surface& surface, std::size_t framesBefore) {
    const auto [entry, fresh] = swarms.try_emplace(surface.swarm->swarm);
    if (!fresh) return;
    entry->second.first = surface.swarm;
    entry->second.keys.resize(static_cast<std::size_t>(surface.swarm->count));
    for (Keys& keys : entry->second.keys) keys.variant.assign(framesBefore, notShown);
}

void checkBake(const Scene& scene, const std::map<ObjectId, BakedSwarm>& swarms, const DrawList& list, const BakeRange& range) {
    double total = 0;
    for (const auto& [id, swarm] : swarms) total += static_cast<double>(swarm.keys.size());
    const double needed = total * range.count();
    if (needed > mostBakedKeys)
        throw Error("Baking " + grouped(total) + " instances over " + std::to_string(range.count()) + " frames needs " + grouped(needed) +
                    " keys, more than the limit of 30 million; export fewer frames.");
    for (const Surface& surface : list.surfaces)
        if (surface.swarm && static_cast<std::size_t>(surface.swarm->count) != swarms.at(surface.swarm->swarm).keys.size())
            throw Error("The count of instances of “" + scene.at(surface.swarm->swarm).name +
                        "” changes between frames; baked nodes need a steady one. Use the instanced export for stills.");
}

}  // namespace

void writeGltfBaked(const Scene& scene, const std::function<DrawList(int)>& at, const Setting& setting, const BakeRange& range,
                    const std::filesystem::path& path, Progress& progress) {
    Builder builder;
    std::vector<float> seconds;
    std::map<ObjectId, BakedSwarm> swarms;
    DrawList first;
    for (int frame = range.first; frame <= range.last; frame += range.every) {
        progress.check();
        DrawList list = at(frame);
        for (const Surface& surface : list.surfaces)
            if (surface.swarm) meet(swarms, surface, seconds.size());
        checkBake(scene, swarms, list, range);
        for (auto& [id, swarm] : swarms) addFrame(swarm, list);
        seconds.push_back(static_cast<float>((frame - range.first) / range.rate));
        if (frame == range.first) first = std::move(list);
        progress.report(0.9 * (frame - range.first + 1) / (range.last - range.first + 1.0));
    }
    if (swarms.empty()) throw Error("Nothing is shown at any frame, so there is nothing to export; switch a swarm on.");
    for (const Surface& surface : first.surfaces)
        if (!surface.swarm) addSingle(builder, surface, first.looks[static_cast<std::size_t>(surface.look)], scene.at(surface.shape).name);
    const int times = builder.addFloats(seconds, 1);
    builder.setRange(times, seconds, 1);
    tinygltf::Animation animation;
    animation.name = "Project";
    for (const ObjectId id : scene.all(ObjectType::swarm)) {
        progress.check();
        if (const auto swarm = swarms.find(id); swarm != swarms.end()) addBakedSwarm(builder, scene, swarm->second, times, animation);
    }
    gltf::addSurroundings(builder.model, setting, allLamps(setting.lamps, first), pictureAspect(scene));
    if (!animation.channels.empty()) builder.model.animations.push_back(animation);
    builder.write(path);
    progress.report(1);
}

}  // namespace gswarm
