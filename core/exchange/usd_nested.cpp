// What swarms show that a swarm repeats, in a USD stage.
#include <map>

#include "core/exchange/usd_things.h"
#include "core/flow/tree.h"
#include "core/symmetry/copies.h"

namespace gswarm::usd {
namespace {

/// What is one prototype: a stock entry of an inner swarm, or one of its pieces.
struct LeafKind {
    ObjectId swarm, stock;
    std::uint16_t variant;
    auto operator<=>(const LeafKind&) const = default;
};

/// All leaves of one kind at a frame, in the world.
struct Gathered {
    std::vector<float> positions, orientations, scales, colours, opacities;
    std::shared_ptr<const ShapeMeshes> meshes;
    Look look;
};

using ByKind = std::map<LeafKind, Gathered>;

void add(Gathered& to, const Leaves& leaves) {
    if (!to.meshes) to.meshes = leaves.variant->meshes, to.look = leaves.variant->look;
    for (const std::uint32_t row : *leaves.rows) {
        const SimilarityParts p = partsOf(leaves.pose * matrixOf(*leaves.swarm, row));
        const glm::vec4 c = leaves.tint * linearColour(leaves.swarm->columns->colour[row]);
        to.positions.insert(to.positions.end(), {p.position.x, p.position.y, p.position.z});
        to.orientations.insert(to.orientations.end(), {p.rotation.w, p.rotation.x, p.rotation.y, p.rotation.z});
        to.scales.insert(to.scales.end(), {p.scale.x, p.scale.y, p.scale.z});
        to.colours.insert(to.colours.end(), {c.x, c.y, c.z});
        to.opacities.push_back(c.w);
    }
}

/// Held until another frame is asked for.
class Leafs {
  public:
    Leafs(FrameNow& now, ObjectId swarm) : now_(now), swarm_(swarm) {}

    const ByKind& at(int frame) {
        if (frame_ == frame) return kinds_;
        frame_ = frame;
        kinds_.clear();
        const auto result = now_.held(swarm_, frame);
        if (!result->shown) return kinds_;
        eachLeaves(result, matrixOf(result->pose), [this](const Leaves& leaves) {
            if (leaves.path == 0 || !leaves.variant || leaves.variant->lamp) return;
            add(kinds_[{leaves.swarm->swarm, leaves.variant->stock, leaves.variant->now}], leaves);
        });
        return kinds_;
    }
    const Gathered& at(int frame, const LeafKind& kind) {
        static const Gathered none;
        const auto found = at(frame).find(kind);
        return found == kinds_.end() ? none : found->second;
    }

  private:
    FrameNow& now_;
    ObjectId swarm_;
    std::optional<int> frame_;
    ByKind kinds_;
};

Prim leafPrim(FrameNow& now, const std::shared_ptr<Leafs>& leafs, const LeafKind& kind, const std::string& path, const std::string& label) {
    const auto of = [leafs, kind](int f) -> const Gathered& { return leafs->at(f, kind); };
    Prim prim{"PointInstancer", path.substr(path.rfind('/') + 1), {displayName(label)}, {}, {}, {}};
    prim.attributes = {
        {"int[] protoIndices", [of](int f) { return wholes(std::vector<std::int64_t>(of(f).opacities.size(), 0)); }, {}},
        {"point3f[] positions", [of](int f) { return numbers(of(f).positions, 3); }, {}},
        {"quath[] orientations", [of](int f) { return numbers(of(f).orientations, 4); }, {}},
        {"float3[] scales", [of](int f) { return numbers(of(f).scales, 3); }, {}},
        {"color3f[] primvars:displayColor", [of](int f) { return numbers(of(f).colours, 3); }, {"interpolation = \"vertex\""}},
        {"float[] primvars:displayOpacity", [of](int f) { return numbers(of(f).opacities, 1); }, {"interpolation = \"vertex\""}},
    };
    const int first = now.frames().range.first;
    const bool seeThrough = std::any_of(of(first).opacities.begin(), of(first).opacities.end(), [](float o) { return o < 1; });
    Prim prototypes{"Scope", "Prototypes", {}, {}, {}, {}};
    static const Mesh empty;
    prototypes.children.push_back(meshPrim(
        now, path + "/Prototypes", "Shape", label, [of](int f) -> const Mesh& { return of(f).meshes ? of(f).meshes->mesh() : empty; },
        seeThrough, [of](int f) { return of(f).look; }));
    prim.lines.push_back("rel prototypes = [<" + path + "/Prototypes/Shape>]");
    prim.children.push_back(std::move(prototypes));
    return prim;
}

}  // namespace

std::vector<Prim> nestedPrims(FrameNow& now, ObjectId swarm, const std::string& parent, std::vector<std::string>& taken) {
    const Scene& scene = now.frames().scene;
    const auto leafs = std::make_shared<Leafs>(now, swarm);
    std::vector<LeafKind> kinds;
    for (const auto& [kind, gathered] : leafs->at(now.frames().range.first)) kinds.push_back(kind);
    std::vector<Prim> prims;
    for (const LeafKind& kind : kinds) {
        const std::string label = scene.at(swarm).name + " " + scene.at(kind.swarm).name;
        prims.push_back(leafPrim(now, leafs, kind, parent + "/" + identifier(label, taken), label));
    }
    return prims;
}

}  // namespace gswarm::usd
