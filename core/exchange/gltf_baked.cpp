#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/exchange/gltf.h"
#include "core/exchange/gltf_builder.h"
#include "core/exchange/gltf_looks.h"

namespace gswarm {
namespace {

using gltf::Builder;

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
    gltf::Geometry geometry;
    std::map<std::uint32_t, int> meshes;
};

int paletteMesh(Builder& builder, Palette& palette, const Look& look, std::uint32_t colour, const std::string& name) {
    const auto rounded = [colour](int shift, std::uint32_t steps) { return ((colour >> shift & 255) * steps + 127) / 255 * 255 / steps; };
    const std::uint32_t c = rounded(0, 7) | rounded(8, 7) << 8 | rounded(16, 3) << 16 | rounded(24, 3) << 24;
    const auto [entry, fresh] = palette.meshes.try_emplace(c, 0);
    if (fresh) {
        const int material = addMaterial(builder, look, linearColour(c), c >> 24 != 255, palette.geometry.metresPerUv);
        entry->second = addMesh(builder, palette.geometry, material, name);
    }
    return entry->second;
}

/// One swarm while its frames come in.
struct BakedSwarm {
    std::shared_ptr<const Result> first;  ///< held on to: the evaluator recycles columns once they are let go
    std::uint64_t path = 0;               ///< of the instance that repeats it; 0 for one that stands on its own
    std::vector<Keys> keys;
    std::vector<bool> seen;                      ///< at the frame at hand
    std::vector<std::vector<glm::mat4>> stands;  ///< in the world, frame by frame: of its copies; none where it is not shown
};

void addFrame(BakedSwarm& swarm, const DrawList& list) {
    swarm.seen.assign(swarm.keys.size(), false);
    std::vector<glm::mat4>& stands = swarm.stands.emplace_back();
    for (const Surface& surface : list.surfaces) {
        if (!surface.swarm || surface.swarm->swarm != swarm.first->swarm || surface.path != swarm.path) continue;
        const Result& now = *surface.swarm;
        if (surface.copy == stands.size()) stands.push_back(surface.pose);
        if (surface.copy > 0) continue;
        for (const std::uint32_t i : surface.instances()) {
            swarm.seen[i] = true;
            addKeys(swarm.keys[i], now.placements[i], shownBy(now, i),
                    surface.tint == glm::vec4(1) ? now.columns->colour[i] : encodedColour(surface.colourOf(i)));
        }
    }
    for (std::size_t i = 0; i < swarm.keys.size(); ++i)
        if (!swarm.seen[i]) addKeys(swarm.keys[i], {}, notShown, 0);
}

/// Puts keys into the animation; what several copies share is written once.
class Animating {
  public:
    Animating(Builder& builder, int times, tinygltf::Animation& animation) : builder_(builder), times_(times), animation_(animation) {}

    /// The number of a sampler; −1 for what never changes.
    int sampler(const std::vector<float>& values, int width, const char* interpolation) {
        if (!changes(values, static_cast<std::size_t>(width))) return -1;
        tinygltf::AnimationSampler sampler;
        sampler.input = times_;
        sampler.output = builder_.addFloats(values, width);
        sampler.interpolation = interpolation;
        animation_.samplers.push_back(sampler);
        return static_cast<int>(animation_.samplers.size()) - 1;
    }
    void channel(int node, int sampler, const char* path) {
        if (sampler < 0) return;
        tinygltf::AnimationChannel channel;
        channel.sampler = sampler;
        channel.target_node = node;
        channel.target_path = path;
        animation_.channels.push_back(channel);
    }

  private:
    Builder& builder_;
    int times_;
    tinygltf::Animation& animation_;
};

/// A node of an instance, or of one of the shapes that it repeats by turns.
struct BakedNode {
    tinygltf::Node node;
    int translation = -1, rotation = -1, scale = -1;  ///< samplers
    std::vector<BakedNode> parts;
};

int addCopy(Builder& builder, Animating& animating, const BakedNode& baked) {
    tinygltf::Node node = baked.node;
    for (const BakedNode& part : baked.parts) node.children.push_back(addCopy(builder, animating, part));
    const int number = builder.addNode(std::move(node));
    animating.channel(number, baked.translation, "translation");
    animating.channel(number, baked.rotation, "rotation");
    animating.channel(number, baked.scale, "scale");
    return number;
}

std::vector<BakedNode> nodesOf(Builder& builder, Animating& animating, const Scene& scene, const BakedSwarm& swarm) {
    const Result& first = *swarm.first;
    std::vector<Palette> palettes;
    gltf::Geometries geometries(builder);
    for (const Variant& v : first.variants)
        palettes.push_back({v.lamp || v.inner ? gltf::Geometry{} : geometries.of(v.meshes->mesh()), {}});
    std::vector<BakedNode> nodes;
    for (std::size_t i = 0; i < swarm.keys.size(); ++i) {
        const Keys& k = swarm.keys[i];
        if (!k.everShown()) continue;
        const std::set<std::uint16_t> taken(k.variant.begin(), k.variant.end());
        const auto meshOf = [&](std::uint16_t v) {
            const Variant& variant = first.variants[v];
            return paletteMesh(builder, palettes[v], variant.look, k.colour, scene.at(variant.shape).name);
        };
        BakedNode baked;
        baked.node.name = scene.at(first.variants[*taken.begin()].shape).name + " " + std::to_string(i);
        baked.node.translation = {k.translation[0], k.translation[1], k.translation[2]};
        baked.node.rotation = {k.rotation[0], k.rotation[1], k.rotation[2], k.rotation[3]};
        baked.node.scale = {k.scale[0], k.scale[1], k.scale[2]};
        // What is sometimes hidden, or repeats several shapes, has a node for each of them that is there or not.
        if (taken.size() == 1) baked.node.mesh = meshOf(*taken.begin());
        for (const std::uint16_t v : taken) {
            if (taken.size() == 1 || v == notShown) continue;
            const std::vector<float> shown = shownAs(k, v);
            BakedNode part;
            part.node.name = scene.at(first.variants[v].shape).name;
            part.node.mesh = meshOf(v);
            part.node.scale = {shown[0], shown[0], shown[0]};
            part.scale = animating.sampler(shown, 3, "STEP");
            baked.parts.push_back(std::move(part));
        }
        baked.translation = animating.sampler(k.translation, 3, "LINEAR");
        baked.rotation = animating.sampler(k.rotation, 4, "LINEAR");
        baked.scale = animating.sampler(k.scale, 3, "LINEAR");
        nodes.push_back(std::move(baked));
    }
    return nodes;
}

/// Where one copy of a swarm stands frame by frame. While it is not there it is scaled by 0, and waits where it is next or was last;
/// where nothing of the swarm is shown, its instances say so.
BakedNode placeOfCopy(Animating& animating, const BakedSwarm& swarm, std::size_t copy, const std::string& name) {
    const auto there = [copy](const std::vector<glm::mat4>& stands) { return copy < stands.size(); };
    auto last = std::find_if(swarm.stands.begin(), swarm.stands.end(), there);
    std::vector<float> translation, rotation, scale;
    bool always = true;
    glm::quat before(0, 0, 0, 0);
    for (auto at = swarm.stands.begin(); at != swarm.stands.end(); ++at) {
        const bool gone = !at->empty() && !there(*at);
        always = always && !gone;
        if (there(*at)) last = at;
        const SimilarityParts parts = partsOf((*last)[copy]);
        const glm::quat q = glm::dot(parts.rotation, before) < 0 ? -parts.rotation : parts.rotation;  // the shorter way
        const glm::vec3 s = gone ? glm::vec3(0) : parts.scale;
        translation.insert(translation.end(), {parts.position.x, parts.position.y, parts.position.z});
        rotation.insert(rotation.end(), {q.x, q.y, q.z, q.w});
        scale.insert(scale.end(), {s.x, s.y, s.z});
        before = q;
    }
    BakedNode baked;
    baked.node.name = name;
    baked.node.translation.assign(translation.begin(), translation.begin() + 3);
    baked.node.rotation.assign(rotation.begin(), rotation.begin() + 4);
    baked.node.scale.assign(scale.begin(), scale.begin() + 3);
    baked.translation = animating.sampler(translation, 3, "LINEAR");
    baked.rotation = animating.sampler(rotation, 4, "LINEAR");
    baked.scale = animating.sampler(scale, 3, always ? "LINEAR" : "STEP");
    return baked;
}

std::size_t mostCopiesOf(const BakedSwarm& swarm) {
    std::size_t most = 0;
    for (const auto& stands : swarm.stands) most = std::max(most, stands.size());
    return most;
}

void addBakedSwarm(Builder& builder, const Scene& scene, const BakedSwarm& swarm, int times, tinygltf::Animation& animation) {
    Animating animating(builder, times, animation);
    const std::vector<BakedNode> nodes = nodesOf(builder, animating, scene, swarm);
    for (std::size_t copy = 0; copy < mostCopiesOf(swarm); ++copy) {
        BakedNode place = placeOfCopy(animating, swarm, copy, scene.at(swarm.first->swarm).name);
        place.parts = nodes;
        builder.model.scenes[0].nodes.push_back(addCopy(builder, animating, place));
    }
}

/// Swarms by themselves and the instances that repeat them.
using BakedSwarms = std::map<std::pair<ObjectId, std::uint64_t>, BakedSwarm>;

/// Makes room for a swarm that is met for the first time: hidden at all frames before.
void meet(BakedSwarms& swarms, const Surface& surface, std::size_t framesBefore) {
    const auto [entry, fresh] = swarms.try_emplace({surface.swarm->swarm, surface.path});
    if (!fresh) return;
    entry->second.path = surface.path;
    entry->second.first = surface.swarm;
    entry->second.keys.resize(static_cast<std::size_t>(surface.swarm->count));
    for (Keys& keys : entry->second.keys) keys.variant.assign(framesBefore, notShown);
    entry->second.stands.resize(framesBefore);
}

void checkBake(const Scene& scene, const BakedSwarms& swarms, const DrawList& list, const BakeRange& range) {
    double total = 0;
    for (const auto& [id, swarm] : swarms)
        total += static_cast<double>(swarm.keys.size()) * static_cast<double>(std::max<std::size_t>(1, mostCopiesOf(swarm)));
    const double needed = total * range.count();
    if (needed > mostBakedKeys)
        throw Error("Baking " + grouped(total) + " instances over " + std::to_string(range.count()) + " frames needs " + grouped(needed) +
                    " keys, more than the limit of 30 million; export fewer frames.");
    for (const Surface& surface : list.surfaces)
        if (surface.swarm && static_cast<std::size_t>(surface.swarm->count) != swarms.at({surface.swarm->swarm, surface.path}).keys.size())
            throw Error("The count of instances of “" + scene.at(surface.swarm->swarm).name +
                        "” changes between frames; baked nodes need a steady one. Use the instanced export for stills.");
}

}  // namespace

void writeGltfBaked(const Scene& scene, const std::function<DrawList(int)>& at, const Setting& setting, const BakeRange& range,
                    const std::filesystem::path& path, Progress& progress) {
    Builder builder;
    std::vector<float> seconds;
    BakedSwarms swarms;
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
    gltf::Singles singles;
    for (const Surface& surface : first.surfaces)
        if (!surface.swarm)
            singles.add(builder, surface, first.looks[static_cast<std::size_t>(surface.look)], scene.at(surface.shape).name);
    const int times = builder.addFloats(seconds, 1);
    builder.setRange(times, seconds, 1);
    tinygltf::Animation animation;
    animation.name = "Project";
    for (const ObjectId id : scene.all(ObjectType::swarm)) {
        progress.check();
        for (auto swarm = swarms.lower_bound({id, 0}); swarm != swarms.end() && swarm->first.first == id; ++swarm)
            addBakedSwarm(builder, scene, swarm->second, times, animation);
    }
    gltf::addSurroundings(builder.model, setting, allLamps(setting.lamps, first), pictureAspect(scene));
    if (!animation.channels.empty()) builder.model.animations.push_back(animation);
    builder.write(path);
    progress.report(1);
}

}  // namespace gswarm
