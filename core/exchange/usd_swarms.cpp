// Swarms of a USD stage as point instancers, and the shapes that are seen where they stand.
#include "core/exchange/usd_things.h"

#include <cmath>

#include "core/exchange/surface_images.h"
#include "core/read/ledger.h"
#include "core/shape/mesh.h"

namespace gswarm::usd {
namespace {

/// Ones for all rows, in number order, of what holds three or four numbers.
template <class Put>
Value forRows(const Result& result, int width, const Put& put) {
    std::vector<float> out;
    out.reserve(static_cast<std::size_t>(result.count) * static_cast<std::size_t>(width));
    for (std::size_t i = 0; i < static_cast<std::size_t>(result.count); ++i) put(i, out);
    return numbers(std::move(out), width);
}

bool isShown(const Result& result, std::size_t i) { return result.columns->variant[i] != notShown; }

const Variant* shapeVariant(const Result& result, std::size_t v) {
    return v < result.variants.size() && !result.variants[v].lamp && !result.variants[v].inner ? &result.variants[v] : nullptr;
}

const Mesh& emptyMesh() {
    static const Mesh empty;
    return empty;
}

/// The ids of the rows that are wanted.
template <class Wanted>
Value idsOf(const Result& result, const Wanted& wanted) {
    std::vector<std::uint32_t> rows;
    for (std::uint32_t i = 0; i < static_cast<std::uint32_t>(result.count); ++i)
        if (wanted(i)) rows.push_back(i);
    const std::vector<std::uint64_t> ids = idsOfRows(result.home, rows);
    return wholes({ids.begin(), ids.end()});
}

}  // namespace

Prim meshPrim(FrameNow& now, const std::string& parent, const std::string& name, const std::string& label,
              const std::function<const Mesh&(int)>& mesh, bool seeThrough, const std::function<Look(int)>& look) {
    const std::string path = parent + "/" + name;
    Prim prim{"Mesh",
              name,
              {"prepend apiSchemas = [\"MaterialBindingAPI\"]", displayName(label)},
              meshAttributes(mesh, now.frames().range.first),
              {"rel material:binding = <" + path + "/Material>", "uniform bool doubleSided = 1"},
              {}};
    prim.children.push_back(materialPrim(now, path, "Material", seeThrough, metresPerUv(mesh(now.frames().range.first)), look));
    return prim;
}

namespace {

/// Of hidden instances placements may be anything: what is no number is written as 0, and what turns nothing as no turn.
std::vector<Attribute> instanceAttributes(FrameNow& now, ObjectId swarm) {
    const auto at = [&now, swarm](int f) -> const Result& { return now.result(swarm, f); };
    return {
        {"int[] protoIndices",
         [at](int f) {
             const Result& r = at(f);
             std::vector<std::int64_t> out;
             // Lights and other swarms that are repeated stand for themselves.
             for (std::size_t i = 0; i < static_cast<std::size_t>(r.count); ++i)
                 out.push_back(isShown(r, i) && shapeVariant(r, r.columns->variant[i]) ? shownBy(r, static_cast<std::uint32_t>(i)) : 0);
             return wholes(std::move(out));
         },
         {}},
        {"int64[] ids", [at](int f) { return idsOf(at(f), [](std::uint32_t) { return true; }); }, {}},
        {"point3f[] positions",
         [at](int f) {
             const Result& r = at(f);
             return forRows(r, 3, [&](std::size_t i, std::vector<float>& out) {
                 const glm::vec3 p = r.placements[i].translation;
                 out.insert(out.end(), {p.x, p.y, p.z});
             });
         },
         {}},
        {"quath[] orientations",
         [at](int f) {
             const Result& r = at(f);
             return forRows(r, 4, [&](std::size_t i, std::vector<float>& out) {
                 const glm::quat own = r.placements[i].rotation;
                 const glm::quat q = std::abs(glm::length(own) - 1) < 0.01f ? own : glm::quat(1, 0, 0, 0);
                 out.insert(out.end(), {q.w, q.x, q.y, q.z});
             });
         },
         {}},
        {"float3[] scales",
         [at](int f) {
             const Result& r = at(f);
             return forRows(r, 3, [&](std::size_t i, std::vector<float>& out) {
                 const glm::vec3 s = r.placements[i].scale;
                 out.insert(out.end(), {s.x, s.y, s.z});
             });
         },
         {}},
        {"int64[] invisibleIds",
         [at](int f) {
             const Result& r = at(f);
             return idsOf(r, [&](std::uint32_t i) { return !isShown(r, i) || !shapeVariant(r, r.columns->variant[i]); });
         },
         {}},
        {"color3f[] primvars:displayColor",
         [at](int f) {
             const Result& r = at(f);
             return forRows(r, 3, [&](std::size_t i, std::vector<float>& out) {
                 const glm::vec4 c = linearColour(r.columns->colour[i]);
                 out.insert(out.end(), {c.x, c.y, c.z});
             });
         },
         {"interpolation = \"vertex\""}},
        {"float[] primvars:displayOpacity",
         [at](int f) {
             const Result& r = at(f);
             return forRows(r, 1, [&](std::size_t i, std::vector<float>& out) { out.push_back(linearColour(r.columns->colour[i]).w); });
         },
         {"interpolation = \"vertex\""}},
        {"token visibility", [at](int f) { return token(at(f).shown ? "inherited" : "invisible"); }, {}},
    };
}

/// Whether some instance is, at some frame.
bool everSeeThrough(FrameNow& now, ObjectId swarm) {
    const FrameRange& range = now.frames().range;
    for (int k = 0; k < range.count(); ++k) {
        const int frame = range.at(k);
        const Result& r = now.result(swarm, frame);
        for (std::size_t i = 0; i < static_cast<std::size_t>(r.count); ++i)
            if (isShown(r, i) && r.columns->colour[i] >> 24 != 255) return true;
    }
    return false;
}

Attribute namedValue(FrameNow& now, ObjectId swarm, ObjectId value, const std::string& name) {
    const auto at = [&now, swarm, value](int frame) {
        const ExportFrames& frames = now.frames();
        Progress quiet;
        const auto plan = frames.evaluator.plan(frames.scene, swarm, now.moment(frame), frames.options, quiet);
        const auto ledger = readLedger(frames.evaluator, plan, frames.scene, {{toText(value)}, "", "", false}, quiet);
        return numbers(ledger->values.front(), 1);
    };
    return {"float[] primvars:" + name, at, {"interpolation = \"vertex\""}};
}

/// The instances of a swarm, in its own space.
Prim instancesPrim(FrameNow& now, ObjectId swarm, const std::string& path) {
    const Scene& scene = now.frames().scene;
    const std::string name = path.substr(path.rfind('/') + 1);
    Prim prim{"PointInstancer", name, {displayName(scene.at(swarm).name)}, instanceAttributes(now, swarm), {}, {}};
    std::vector<std::string> values;
    for (const ObjectId value : scene.at(swarm).list("namedValues"))
        prim.attributes.push_back(namedValue(now, swarm, value, identifier(scene.at(value).name, values)));
    const bool seeThrough = everSeeThrough(now, swarm);
    Prim prototypes{"Scope", "Prototypes", {}, {}, {}, {}};
    std::string targets;
    const Result& first = now.result(swarm, now.frames().range.first);
    std::vector<std::string> shapes;
    for (std::size_t v = 0; v < first.variants.size(); ++v) {
        if (first.variants[v].now != v) continue;
        const auto variant = [&now, swarm, v](int f) { return shapeVariant(now.result(swarm, f), v); };
        const std::string label = scene.at(first.variants[v].shape).name, shape = identifier(label, shapes);
        targets += (targets.empty() ? "" : ", ") + ("<" + path + "/Prototypes/" + shape + ">");
        if (!shapeVariant(first, v)) {
            prototypes.children.push_back({"Xform", shape, {displayName(label)}, {}, {}, {}});
            continue;
        }
        prototypes.children.push_back(meshPrim(
            now, path + "/Prototypes", shape, label,
            [variant](int f) -> const Mesh& { return variant(f) ? variant(f)->meshes->mesh() : emptyMesh(); }, seeThrough,
            [variant](int f) { return variant(f) ? variant(f)->look : Look{}; }));
    }
    prim.lines.push_back("rel prototypes = [" + targets + "]");
    prim.children.push_back(std::move(prototypes));
    return prim;
}

/// The copies of a swarm by symmetry: instances of all its instances. Where it mirrors X is scaled by less than 0.
Prim copiesPrim(FrameNow& now, ObjectId swarm, const std::string& path) {
    const auto ofCopies = [&now, swarm](int width, const std::function<std::vector<float>(const SimilarityParts&)>& put) {
        return [&now, swarm, width, put](int f) {
            std::vector<float> out;
            for (const glm::mat4& copy : now.result(swarm, f).copies) {
                const std::vector<float> some = put(partsOf(copy));
                out.insert(out.end(), some.begin(), some.end());
            }
            return numbers(std::move(out), width);
        };
    };
    const auto vector = [](const glm::vec3& v) { return std::vector<float>{v.x, v.y, v.z}; };
    Prim prim{"PointInstancer", path.substr(path.rfind('/') + 1), {displayName(now.frames().scene.at(swarm).name)}, {}, {}, {}};
    prim.attributes = {{"int[] protoIndices",
                        [&now, swarm](int f) { return wholes(std::vector<std::int64_t>(now.result(swarm, f).copies.size(), 0)); },
                        {}},
                       {"point3f[] positions", ofCopies(3, [vector](const SimilarityParts& p) { return vector(p.position); }), {}},
                       {"quath[] orientations",
                        ofCopies(4,
                                 [](const SimilarityParts& p) {
                                     return std::vector<float>{p.rotation.w, p.rotation.x, p.rotation.y, p.rotation.z};
                                 }),
                        {}},
                       {"float3[] scales", ofCopies(3, [vector](const SimilarityParts& p) { return vector(p.scale); }), {}}};
    const std::string original = path + "/Original";
    prim.lines.push_back("rel prototypes = [<" + original + ">]");
    prim.children.push_back(instancesPrim(now, swarm, original));
    return prim;
}

}  // namespace

Prim swarmPrim(FrameNow& now, ObjectId swarm, const std::string& parent, std::vector<std::string>& taken) {
    const Object& object = now.frames().scene.at(swarm);
    const std::string path = parent + "/" + identifier(object.name, taken);
    Prim prim = object.list("symmetries").empty() ? instancesPrim(now, swarm, path) : copiesPrim(now, swarm, path);
    addPlacing(prim, [&now, swarm](int f) { return now.result(swarm, f).pose; });
    return prim;
}

std::vector<Prim> backdropPrims(FrameNow& now, ObjectId swarm, const std::string& parent, std::vector<std::string>& taken) {
    std::vector<Prim> prims;
    const Result& first = now.result(swarm, now.frames().range.first);
    for (std::size_t k = 0; k < first.backdrops.size(); ++k) {
        if (first.backdrops[k].dimmed) continue;
        const auto backdrop = [&now, swarm, k](int f) -> const Backdrop* {
            const Result& r = now.result(swarm, f);
            return k < r.backdrops.size() && !r.backdrops[k].dimmed ? &r.backdrops[k] : nullptr;
        };
        const std::string label = now.frames().scene.at(first.backdrops[k].shape).name;
        // What the swarm carries is there in each of its copies.
        const std::size_t copies = first.backdrops[k].copied ? first.copies.size() : 1;
        for (std::size_t copy = 0; copy < copies; ++copy) {
            Prim prim = meshPrim(
                now, parent, identifier(label, taken), label,
                [backdrop](int f) -> const Mesh& { return backdrop(f) ? backdrop(f)->meshes->mesh() : emptyMesh(); }, false,
                [backdrop](int f) { return backdrop(f) ? backdrop(f)->look : Look{}; });
            addPlacing(prim, [&now, swarm, backdrop, copy](int f) {
                const Result& r = now.result(swarm, f);
                const glm::mat4 pose = backdrop(f) ? matrixOf(backdrop(f)->pose) : glm::mat4(1);
                return partsOf(copy > 0 && copy < r.copies.size() ? pose * r.copies[copy] : pose);
            });
            prim.attributes.push_back(
                {"token visibility",
                 [&now, swarm, backdrop, copy](int f) {
                     const bool there = copy == 0 || copy < now.result(swarm, f).copies.size();
                     return token(there && backdrop(f) && (now.result(swarm, f).shown || backdrop(f)->alone) ? "inherited" : "invisible");
                 },
                 {}});
            prims.push_back(std::move(prim));
        }
    }
    return prims;
}

}  // namespace gswarm::usd
