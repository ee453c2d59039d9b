#include "core/exchange/gltf.h"

#include <array>
#include <map>
#include <tuple>

#include "core/base/error.h"
#include "core/exchange/gltf_builder.h"
#include "core/exchange/gltf_looks.h"

namespace gswarm {
namespace {

using gltf::Builder;

/// The instances of one mesh as a node; those of copies, and of swarms that are repeated, share all but what differs.
class InstancedNodes {
  public:
    explicit InstancedNodes(Builder& builder) : builder_(builder) {}

    tinygltf::Node of(const Surface& surface, const Look& look, const std::string& name) {
        Shared& shared = placesOf(surface);
        const int colours = coloursOf(shared, surface);
        tinygltf::Value::Object attributes = shared.places, extension;
        attributes["_COLOR_0"] = tinygltf::Value(colours);
        extension["attributes"] = tinygltf::Value(attributes);
        tinygltf::Node node;
        node.name = name;
        const auto [mesh, isNew] = shared.meshes.try_emplace(shared.seeThrough, -1);
        if (isNew) {
            const gltf::Geometry& geometry = geometries_.of(surface.meshes->mesh());
            const int material = addMaterial(builder_, look, surface.colour, shared.seeThrough, geometry.metresPerUv);
            mesh->second = addMesh(builder_, geometry, material, name);
        }
        node.mesh = mesh->second;
        node.extensions["EXT_mesh_gpu_instancing"] = tinygltf::Value(extension);
        return node;
    }

  private:
    struct Shared {
        tinygltf::Value::Object places;
        std::map<std::array<float, 4>, int> colours;  ///< by what theirs are times
        std::map<bool, int> meshes;                   ///< see-through or not
        bool seeThrough = false;
    };

    Shared& placesOf(const Surface& surface) {
        const auto [at, isNew] = shared_.try_emplace(surface.rows.get());
        Shared& shared = at->second;
        if (!isNew) return shared;
        held_.push_back(surface.rows);
        std::vector<float> translations, rotations, scales;
        for (const std::size_t i : surface.instances()) {
            const Placement& p = surface.swarm->placements[i];
            translations.insert(translations.end(), {p.translation.x, p.translation.y, p.translation.z});
            rotations.insert(rotations.end(), {p.rotation.x, p.rotation.y, p.rotation.z, p.rotation.w});
            scales.insert(scales.end(), {p.scale.x, p.scale.y, p.scale.z});
        }
        shared.places["TRANSLATION"] = tinygltf::Value(builder_.addFloats(translations, 3));
        shared.places["ROTATION"] = tinygltf::Value(builder_.addFloats(rotations, 4));
        shared.places["SCALE"] = tinygltf::Value(builder_.addFloats(scales, 3));
        return shared;
    }

    int coloursOf(Shared& shared, const Surface& surface) {
        shared.seeThrough = surface.colour.w < 1;
        for (const std::uint32_t i : surface.instances()) shared.seeThrough = shared.seeThrough || surface.colourOf(i).w < 1;
        const auto [at, isNew] = shared.colours.try_emplace({surface.tint.x, surface.tint.y, surface.tint.z, surface.tint.w}, -1);
        if (!isNew) return at->second;
        std::vector<float> colours;
        for (const std::uint32_t i : surface.instances()) {
            const glm::vec4 c = surface.colourOf(i);
            colours.insert(colours.end(), {c.x, c.y, c.z, c.w});
        }
        return at->second = builder_.addFloats(colours, 4);
    }

    Builder& builder_;
    std::map<const void*, Shared> shared_;  ///< by their rows
    gltf::Geometries geometries_{builder_};
    std::vector<std::shared_ptr<const std::vector<std::uint32_t>>> held_;
};

/// Where one copy of a swarm stands. One that another swarm repeats may be skewed.
tinygltf::Node standNode(const Surface& surface, const std::string& name) {
    if (surface.path == 0) return gltf::nodeAt(partsOf(surface.pose), name);
    tinygltf::Node node;
    node.name = name;
    for (int column = 0; column < 4; ++column)
        for (int row = 0; row < 4; ++row) node.matrix.push_back(double(surface.pose[column][row]));
    return node;
}

}  // namespace

void writeGltfStill(const Scene& scene, const DrawList& list, const Setting& setting, const std::filesystem::path& path,
                    Progress& progress) {
    Builder builder;
    gltf::Singles singles;
    std::vector<tinygltf::Node> swarms;  // each copy of a swarm is one, also in instances that repeat it
    std::map<std::tuple<ObjectId, std::uint32_t, std::uint64_t>, std::size_t> known;  // and which
    InstancedNodes instances(builder);
    for (const Surface& surface : list.surfaces) {
        progress.check();
        const Look& look = list.looks[static_cast<std::size_t>(surface.look)];
        const std::string& name = scene.at(surface.shape).name;
        if (!surface.swarm) {
            singles.add(builder, surface, look, name);
            continue;
        }
        const ObjectId swarm = surface.swarm->swarm;
        const auto [entry, fresh] = known.try_emplace({swarm, surface.copy, surface.path}, swarms.size());
        if (fresh) swarms.push_back(standNode(surface, scene.at(swarm).name));
        swarms[entry->second].children.push_back(builder.addNode(instances.of(surface, look, name)));
    }
    if (swarms.empty())
        throw Error("Nothing is shown at this frame, so there is nothing to export; switch a swarm on or choose another frame.");
    for (const tinygltf::Node& node : swarms) builder.model.scenes[0].nodes.push_back(builder.addNode(node));
    gltf::addSurroundings(builder.model, setting, allLamps(setting.lamps, list), pictureAspect(scene));
    gltf::use(builder.model, "EXT_mesh_gpu_instancing");
    builder.model.extensionsRequired = {"EXT_mesh_gpu_instancing"};
    builder.write(path);
    progress.report(1);
}

}  // namespace gswarm
