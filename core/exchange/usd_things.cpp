#include "core/exchange/usd_things.h"

#include <cmath>
#include <glm/gtx/quaternion.hpp>
#include <numbers>

#include "core/provide/placing.h"
#include "core/read/ledger.h"
#include "core/shape/mesh.h"

namespace gswarm::usd {
namespace {

constexpr float pi = std::numbers::pi_v<float>;

template <class V>
std::vector<float> flatOf(const std::vector<V>& vectors) {
    std::vector<float> out(vectors.size() * sizeof(V) / sizeof(float));
    if (!out.empty()) std::memcpy(out.data(), vectors.data(), out.size() * sizeof(float));
    return out;
}

std::string displayName(const std::string& name) { return "displayName = " + quoted(name); }

Attribute fixedToken(std::string declared, std::string word) {
    return {std::move(declared), [word](int) { return token(word); }, {}};
}

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
    return v < result.variants.size() && !result.variants[v].lamp ? &result.variants[v] : nullptr;
}

const Mesh& emptyMesh() {
    static const Mesh empty;
    return empty;
}

}  // namespace

// ---- frames

void FrameNow::go(int frame) {
    if (frame_ == frame) return;
    frame_ = frame;
    results_.clear();
    setting_.reset();
    lamps_.reset();
}

const Result& FrameNow::result(ObjectId swarm, int frame) {
    go(frame);
    auto& found = results_[swarm];
    if (!found) {
        PlanOptions options = frames_.options;
        options.wanted.placements = true;
        Progress quiet;  // the writer tells how far it is
        progress_.check();
        found = frames_.evaluator.evaluate(frames_.scene, swarm, moment(frame), options, quiet);
    }
    return *found;
}

const Setting& FrameNow::setting(int frame) {
    go(frame);
    if (!setting_) setting_ = frames_.setting(moment(frame));
    return *setting_;
}

const std::vector<Lamp>& FrameNow::lamps(int frame) {
    go(frame);
    if (!lamps_) {
        std::vector<Lamp> all = setting(frame).lamps;
        for (const ObjectId swarm : frames_.scene.all(ObjectType::swarm)) {
            const Result& its = result(swarm, frame);
            if (!its.shown) continue;
            const auto repeated = lampsOf(its);
            all.insert(all.end(), repeated.begin(), repeated.end());
        }
        lamps_ = std::move(all);
    }
    return *lamps_;
}

Camera FrameNow::camera(ObjectId camera, int frame) { return cameraAt(frames_.scene, camera, moment(frame), frames_.evaluator.store()); }

// ---- places

std::vector<Attribute> placed(const std::function<WorldPose(int frame)>& pose) {
    return {{"double3 xformOp:translate",
             [pose](int f) {
                 const auto p = pose(f).position;
                 return three(p.x, p.y, p.z);
             },
             {}},
            {"quatf xformOp:orient",
             [pose](int f) {
                 const auto q = pose(f).rotation;
                 return Value{{q.w, q.x, q.y, q.z}, {}, {}, 4, false};
             },
             {}},
            {"float3 xformOp:scale",
             [pose](int f) {
                 const float s = pose(f).scale;
                 return three(s, s, s);
             },
             {}}};
}

// ---- meshes and materials

std::vector<Attribute> meshAttributes(const std::function<const Mesh&(int frame)>& at) {
    std::vector<Attribute> attributes{
        {"int[] faceVertexCounts", [at](int f) { return wholes(std::vector<std::int64_t>(at(f).triangleCount(), 3)); }, {}},
        {"int[] faceVertexIndices",
         [at](int f) { return wholes(std::vector<std::int64_t>(at(f).triangles.begin(), at(f).triangles.end())); },
         {}},
        {"point3f[] points", [at](int f) { return numbers(flatOf(at(f).positions), 3); }, {}},
        {"normal3f[] normals", [at](int f) { return numbers(flatOf(at(f).normals), 3); }, {"interpolation = \"vertex\""}},
        {"texCoord2f[] primvars:st", [at](int f) { return numbers(flatOf(at(f).uv), 2); }, {"interpolation = \"vertex\""}},
        {"float3[] extent",
         [at](int f) {
             const Bounds box = boundsOf(at(f));
             if (box.empty()) return numbers({0, 0, 0, 0, 0, 0}, 3);
             return numbers({box.low.x, box.low.y, box.low.z, box.high.x, box.high.y, box.high.z}, 3);
         },
         {}}};
    attributes.push_back(fixedToken("uniform token subdivisionScheme", "none"));
    attributes.push_back(fixedToken("uniform token orientation", "rightHanded"));
    return attributes;
}

Prim materialPrim(const std::string& path, const std::string& name, bool seeThrough, const std::function<Look(int frame)>& at) {
    const auto plain = [at](int f) {
        const Look look = at(f);
        // Of a mixed one its first is meant.
        return look.mix ? look.mix->first.plain : look.plain;
    };
    const auto share = [&](const char* input, float Material::*member) {
        return Attribute{std::string("float inputs:") + input, [plain, member](int f) { return number(plain(f).*member); }, {}};
    };
    const auto colour = [plain](int f) {
        const glm::vec4 c = plain(f).colour;
        return three(c.x, c.y, c.z);
    };
    Prim surface{"Shader", "Surface", {}, {}, {}, {}};
    surface.lines = {"uniform token info:id = \"UsdPreviewSurface\"",
                     "color3f inputs:diffuseColor.connect = <" + path + "/" + name + "/Colour.outputs:result>", "token outputs:surface"};
    surface.attributes = {share("metallic", &Material::metal),
                          share("roughness", &Material::roughness),
                          share("ior", &Material::ior),
                          share("clearcoat", &Material::coat),
                          share("clearcoatRoughness", &Material::coatRoughness),
                          {"color3f inputs:emissiveColor",
                           [plain](int f) {
                               const Material m = plain(f);
                               const glm::vec3 glow =
                                   (m.emissionColour == glm::vec3(0) ? glm::vec3(m.colour) : m.emissionColour) * m.emission;
                               return three(glow.x, glow.y, glow.z);
                           },
                           {}}};
    Prim reader{"Shader", "Colour", {}, {}, {}, {}};
    reader.lines = {"uniform token info:id = \"UsdPrimvarReader_float3\"", "string inputs:varname = \"displayColor\"",
                    "float3 outputs:result"};
    reader.attributes = {{"float3 inputs:fallback", colour, {}}};
    Prim material{"Material", name, {}, {}, {"token outputs:surface.connect = <" + path + "/" + name + "/Surface.outputs:surface>"}, {}};
    material.children = {surface, reader};
    // Only where it is wanted: some readers know no numbers of instances that are no colours.
    const auto constant = [plain](int f) {
        // It knows no light that goes through; what does is seen through a little.
        const Material m = plain(f);
        return number(m.colour.w * (1 - 0.8f * (m.body == MaterialBody::opaque ? 0.0f : m.transmission)));
    };
    if (seeThrough) {
        Prim opacity{"Shader", "Opacity", {}, {}, {}, {}};
        opacity.lines = {"uniform token info:id = \"UsdPrimvarReader_float\"", "string inputs:varname = \"displayOpacity\"",
                         "float outputs:result"};
        opacity.attributes = {{"float inputs:fallback", constant, {}}};
        material.children.push_back(opacity);
        material.children.front().lines.push_back("float inputs:opacity.connect = <" + path + "/" + name + "/Opacity.outputs:result>");
    } else {
        material.children.front().attributes.push_back({"float inputs:opacity", constant, {}});
    }
    return material;
}

// ---- swarms

namespace {

/// A mesh with its material inside it.
Prim meshPrim(const std::string& parent, const std::string& name, const std::string& label, const std::function<const Mesh&(int)>& mesh,
              bool seeThrough, const std::function<Look(int)>& look) {
    const std::string path = parent + "/" + name;
    Prim prim{"Mesh",
              name,
              {"prepend apiSchemas = [\"MaterialBindingAPI\"]", displayName(label)},
              meshAttributes(mesh),
              {"rel material:binding = <" + path + "/Material>", "uniform bool doubleSided = 1"},
              {}};
    prim.children.push_back(materialPrim(path, "Material", seeThrough, look));
    return prim;
}

/// Of hidden instances placements may be anything: what is no number is written as 0, and what turns nothing as no turn.
std::vector<Attribute> instanceAttributes(FrameNow& now, ObjectId swarm) {
    const auto at = [&now, swarm](int f) -> const Result& { return now.result(swarm, f); };
    return {
        {"int[] protoIndices",
         [at](int f) {
             const Result& r = at(f);
             std::vector<std::int64_t> out;
             // What repeats lights stands for itself as lights.
             for (std::size_t i = 0; i < static_cast<std::size_t>(r.count); ++i)
                 out.push_back(isShown(r, i) && shapeVariant(r, r.columns->variant[i]) ? r.columns->variant[i] : 0);
             return wholes(std::move(out));
         },
         {}},
        {"int64[] ids",
         [at](int f) {
             const Result& r = at(f);
             std::vector<std::uint32_t> rows(static_cast<std::size_t>(r.count));
             for (std::size_t i = 0; i < rows.size(); ++i) rows[i] = static_cast<std::uint32_t>(i);
             std::vector<std::int64_t> out;
             for (const std::uint64_t id : idsOfRows(r.home, rows)) out.push_back(static_cast<std::int64_t>(id));
             return wholes(std::move(out));
         },
         {}},
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
             std::vector<std::uint32_t> rows;
             for (std::size_t i = 0; i < static_cast<std::size_t>(r.count); ++i)
                 if (!isShown(r, i) || !shapeVariant(r, r.columns->variant[i])) rows.push_back(static_cast<std::uint32_t>(i));
             std::vector<std::int64_t> out;
             for (const std::uint64_t id : idsOfRows(r.home, rows)) out.push_back(static_cast<std::int64_t>(id));
             return wholes(std::move(out));
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
        const int frame = range.first + k * range.every;
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

}  // namespace

Prim swarmPrim(FrameNow& now, ObjectId swarm, const std::string& parent, std::vector<std::string>& taken) {
    const Scene& scene = now.frames().scene;
    const std::string name = identifier(scene.at(swarm).name, taken), path = parent + "/" + name;
    Prim prim{"PointInstancer", name, {displayName(scene.at(swarm).name)}, instanceAttributes(now, swarm), {}, {}};
    const auto placing = placed([&now, swarm](int f) { return now.result(swarm, f).pose; });
    prim.attributes.insert(prim.attributes.end(), placing.begin(), placing.end());
    std::vector<std::string> values;
    for (const ObjectId value : scene.at(swarm).list("namedValues"))
        prim.attributes.push_back(namedValue(now, swarm, value, identifier(scene.at(value).name, values)));
    prim.lines.push_back("uniform token[] xformOpOrder = [\"xformOp:translate\", \"xformOp:orient\", \"xformOp:scale\"]");
    const bool seeThrough = everSeeThrough(now, swarm);
    Prim prototypes{"Scope", "Prototypes", {}, {}, {}, {}};
    std::string targets;
    const Result& first = now.result(swarm, now.frames().range.first);
    std::vector<std::string> shapes;
    for (std::size_t v = 0; v < first.variants.size(); ++v) {
        const auto variant = [&now, swarm, v](int f) { return shapeVariant(now.result(swarm, f), v); };
        const std::string label = scene.at(first.variants[v].shape).name, shape = identifier(label, shapes);
        targets += (targets.empty() ? "" : ", ") + ("<" + path + "/Prototypes/" + shape + ">");
        prototypes.children.push_back(meshPrim(
            path + "/Prototypes", shape, label,
            [variant](int f) -> const Mesh& { return variant(f) ? variant(f)->meshes->mesh() : emptyMesh(); }, seeThrough,
            [variant](int f) { return variant(f) ? variant(f)->look : Look{}; }));
    }
    prim.lines.push_back("rel prototypes = [" + targets + "]");
    prim.children.push_back(std::move(prototypes));
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
        Prim prim = meshPrim(
            parent, identifier(label, taken), label,
            [backdrop](int f) -> const Mesh& { return backdrop(f) ? backdrop(f)->meshes->mesh() : emptyMesh(); }, false,
            [backdrop](int f) { return backdrop(f) ? backdrop(f)->look : Look{}; });
        const auto placing = placed([backdrop](int f) { return backdrop(f) ? backdrop(f)->pose : WorldPose{}; });
        prim.attributes.insert(prim.attributes.end(), placing.begin(), placing.end());
        prim.attributes.push_back(
            {"token visibility",
             [&now, swarm, backdrop](int f) { return token(backdrop(f) && now.result(swarm, f).shown ? "inherited" : "invisible"); },
             {}});
        prim.lines.push_back("uniform token[] xformOpOrder = [\"xformOp:translate\", \"xformOp:orient\", \"xformOp:scale\"]");
        prims.push_back(std::move(prim));
    }
    return prims;
}

// ---- lights

namespace {

struct Emits {
    glm::vec3 colour{1};
    float intensity = 0;
};
Emits emits(const glm::vec3& light) {
    const float bright = std::max({light.x, light.y, light.z});
    return bright > 0 ? Emits{light / bright, bright} : Emits{};
}

std::vector<Attribute> emitting(const std::function<glm::vec3(int frame)>& light) {
    return {{"color3f inputs:color",
             [light](int f) {
                 const auto c = emits(light(f)).colour;
                 return three(c.x, c.y, c.z);
             },
             {}},
            {"float inputs:intensity", [light](int f) { return number(emits(light(f)).intensity); }, {}}};
}

/// UsdLux shines along -Z; a pose that does as well.
WorldPose shiningAlong(const glm::vec3& position, const glm::vec3& along) {
    return {position, glm::rotation(glm::vec3(0, 0, -1), along), 1};
}

void addPlacing(Prim& prim, const std::function<WorldPose(int frame)>& pose) {
    const auto placing = placed(pose);
    prim.attributes.insert(prim.attributes.end(), placing.begin(), placing.end());
    prim.lines.push_back("uniform token[] xformOpOrder = [\"xformOp:translate\", \"xformOp:orient\", \"xformOp:scale\"]");
}

/// A ball that small shines like a point.
constexpr float leastRadius = 0.005f;

Prim lampPrim(const Lamp& first, const std::string& name, const std::string& label, const std::function<Lamp(int frame)>& lamp) {
    Prim prim{first.form == LampForm::rectangle ? "RectLight"
              : first.form == LampForm::disc    ? "DiskLight"
                                                : "SphereLight",
              name,
              {displayName(label)},
              {},
              {},
              {}};
    const auto light = [lamp](int f) {
        const Lamp l = lamp(f);
        const float radius = std::max(l.radius, leastRadius);
        // Candela of a ball over the disc that is seen of it are its nits.
        return l.form == LampForm::point || l.form == LampForm::spot ? l.light / (pi * radius * radius) : l.light;
    };
    prim.attributes = emitting(light);
    const auto add = [&](const char* declared, const std::function<float(const Lamp&)>& of) {
        prim.attributes.push_back({declared, [lamp, of](int f) { return number(of(lamp(f))); }, {}});
    };
    if (first.form == LampForm::rectangle) {
        add("float inputs:width", [](const Lamp& l) { return l.width; });
        add("float inputs:height", [](const Lamp& l) { return l.depth; });
    } else {
        add("float inputs:radius", [](const Lamp& l) { return std::max(l.radius, leastRadius); });
    }
    if (first.form == LampForm::spot) {
        prim.meta.insert(prim.meta.begin(), "prepend apiSchemas = [\"ShapingAPI\"]");
        add("float inputs:shaping:cone:angle", [](const Lamp& l) { return std::acos(l.cosineNone) * 180 / pi; });
        add("float inputs:shaping:cone:softness",
            [](const Lamp& l) { return 1 - std::acos(l.cosineFull) / std::max(std::acos(l.cosineNone), 1e-4f); });
    }
    addPlacing(prim, [lamp](int f) {
        const Lamp l = lamp(f);
        // Its width along X, what shines along -Z.
        const glm::mat3 axes(l.side, glm::cross(-l.along, l.side), -l.along);
        return WorldPose{l.position, glm::quat_cast(axes), 1};
    });
    return prim;
}

}  // namespace

std::vector<Prim> lightPrims(FrameNow& now, std::vector<std::string>& taken) {
    std::vector<Prim> prims;
    const int first = now.frames().range.first;
    const Scene& scene = now.frames().scene;
    const auto labelOf = [&](ObjectId of) { return scene.find(of) ? scene.at(of).name : std::string("Light"); };
    const FarLight far = now.setting(first).light;
    for (std::size_t k = 0; k < far.suns.size(); ++k) {
        const auto sun = [&now, k](int f) {
            const auto& suns = now.setting(f).light.suns;
            return k < suns.size() ? suns[k] : Sun{};
        };
        const std::string label = labelOf(far.suns[k].of);
        Prim prim{"DistantLight", identifier(label, taken), {displayName(label)}, {}, {"bool inputs:normalize = 1"}, {}};
        // Its strength is what white paper that faces it sends back; lux are pi times that.
        prim.attributes = emitting([sun](int f) { return sun(f).light * pi; });
        prim.attributes.push_back({"float inputs:angle", [sun](int f) { return number(sun(f).size * 180 / pi); }, {}});
        addPlacing(prim, [sun](int f) { return shiningAlong({}, -sun(f).toward); });
        prims.push_back(std::move(prim));
    }
    const auto sky = [&now](int f) {
        const FarLight& light = now.setting(f).light;
        return (light.zenith + light.horizon) * 0.5f;
    };
    if (std::max({sky(first).x, sky(first).y, sky(first).z}) > 0) {
        Prim prim{"DomeLight", identifier("Sky", taken), {}, emitting(sky), {}, {}};
        prims.push_back(std::move(prim));
    }
    for (std::size_t k = 0; k < far.surroundings.size(); ++k) {
        const Surroundings& one = far.surroundings[k];
        const std::string label = labelOf(one.of);
        const auto around = [&now, k](int f) {
            const auto& all = now.setting(f).light.surroundings;
            return k < all.size() ? all[k] : Surroundings{};
        };
        Prim prim{"DomeLight", identifier(label, taken), {displayName(label)}, {}, {}, {}};
        const bool own = one.which == SurroundingsPicture::file;
        // A picture that ships with the program is no file that could be named: its mean stands for it.
        prim.attributes = emitting(
            [around, own](int f) { return around(f).light * (own || !around(f).picture ? glm::vec3(1) : around(f).picture->mean()); });
        if (own) {
            const std::filesystem::path folder = now.frames().options.projectFolder;
            prim.lines.push_back("asset inputs:texture:file = @" + (folder / one.file).string() + "@");
            prim.lines.push_back("token inputs:texture:format = \"latlong\"");
        }
        addPlacing(prim, [around](int f) { return WorldPose{{}, glm::angleAxis(around(f).around, glm::vec3(0, 1, 0)), 1}; });
        prims.push_back(std::move(prim));
    }
    const std::vector<Lamp> lamps = now.lamps(first);
    for (std::size_t k = 0; k < lamps.size(); ++k) {
        const std::string label = labelOf(lamps[k].of);
        prims.push_back(lampPrim(lamps[k], identifier(label, taken), label, [&now, k](int f) {
            const auto& all = now.lamps(f);
            return k < all.size() ? all[k] : Lamp{};
        }));
    }
    return prims;
}

// ---- cameras

namespace {

Prim cameraPrim(const std::string& name, const std::string& label, double aspect, const std::function<Camera(int frame)>& camera) {
    Prim prim{"Camera", name, {displayName(label)}, {}, {}, {}};
    // Lengths of the lens count in tenths of a stage's unit, which is a metre here.
    constexpr double tenths = 0.01;
    const auto add = [&](const char* declared, const std::function<double(const Camera&)>& of) {
        prim.attributes.push_back({declared, [camera, of](int f) { return number(of(camera(f))); }, {}});
    };
    const auto across = [](const Camera& c) { return c.projection == Projection::parallel ? c.width * 10 : 36 * tenths; };
    add("float focalLength", [](const Camera& c) { return c.focalLength * tenths; });
    add("float horizontalAperture", across);
    add("float verticalAperture", [across, aspect](const Camera& c) { return across(c) / aspect; });
    add("float fStop", [](const Camera& c) { return c.focus == Focus::everything ? 0.0 : static_cast<double>(c.fNumber); });
    add("float focusDistance", [](const Camera& c) {
        return c.focus == Focus::target ? static_cast<double>(glm::length(c.target - c.position)) : static_cast<double>(c.focusDistance);
    });
    add("double shutter:open", [](const Camera& c) { return shutterOf(c, 0).first; });
    add("double shutter:close", [](const Camera& c) { return shutterOf(c, 0).second; });
    prim.attributes.push_back({"float2 clippingRange",
                               [camera](int f) {
                                   const Camera c = camera(f);
                                   const float near = std::max(c.nearCut, 0.01f);
                                   return Value{{near, c.farCut > near ? c.farCut : 10000}, {}, {}, 2, false};
                               },
                               {}});
    prim.attributes.push_back(
        {"token projection",
         [camera](int f) { return token(camera(f).projection == Projection::parallel ? "orthographic" : "perspective"); },
         {}});
    addPlacing(prim, [camera](int f) {
        const Camera c = camera(f);
        return WorldPose{c.position, glm::quat_cast(glm::inverse(viewMatrix(c))), 1};
    });
    return prim;
}

}  // namespace

std::vector<Prim> cameraPrims(FrameNow& now, std::vector<std::string>& taken) {
    std::vector<Prim> prims;
    const Scene& scene = now.frames().scene;
    const double aspect = pictureAspect(scene);
    prims.push_back(
        cameraPrim(identifier("Shot", taken), "What is seen, with its cuts", aspect, [&now](int f) { return now.setting(f).camera; }));
    for (const ObjectId id : scene.all(ObjectType::camera)) {
        const std::string& label = scene.at(id).name;
        prims.push_back(cameraPrim(identifier(label, taken), label, aspect, [&now, id](int f) { return now.camera(id, f); }));
    }
    return prims;
}

}  // namespace gswarm::usd
