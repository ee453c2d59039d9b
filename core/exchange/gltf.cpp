#include "core/exchange/gltf.h"

#include <map>

#include "core/base/error.h"
#include "core/exchange/gltf_builder.h"
#include "core/exchange/gltf_looks.h"

namespace gswarm {
namespace {

using gltf::Builder;

tinygltf::Node instancedNode(Builder& builder, const Surface& surface, const Look& look, const std::string& name) {
    std::vector<float> translations, rotations, scales, colours;
    bool seeThrough = surface.colour.w < 1;
    for (const std::size_t i : surface.instances()) {
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
    return node;
}

}  // namespace

void writeGltfStill(const Scene& scene, const DrawList& list, const Setting& setting, const std::filesystem::path& path,
                    Progress& progress) {
    Builder builder;
    gltf::Singles singles;
    std::vector<tinygltf::Node> swarms;                               // each copy of a swarm is one
    std::map<std::pair<ObjectId, std::uint32_t>, std::size_t> known;  // and which
    tinygltf::Node instances;                                         // of the surface whose copies are at hand
    for (const Surface& surface : list.surfaces) {
        progress.check();
        const Look& look = list.looks[static_cast<std::size_t>(surface.look)];
        const std::string& name = scene.at(surface.shape).name;
        if (!surface.swarm) {
            singles.add(builder, surface, look, name);
            continue;
        }
        const ObjectId swarm = surface.swarm->swarm;
        const auto [entry, fresh] = known.try_emplace({swarm, surface.copy}, swarms.size());
        if (fresh) swarms.push_back(gltf::nodeAt(partsOf(surface.pose), scene.at(swarm).name));
        if (surface.copy == 0) instances = instancedNode(builder, surface, look, name);
        swarms[entry->second].children.push_back(builder.addNode(instances));
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
