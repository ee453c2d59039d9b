// Meshes and materials of a USD stage.
#include "core/exchange/usd_things.h"

#include <cstring>

#include "core/shape/mesh.h"

namespace gswarm::usd {
namespace {

template <class V>
std::vector<float> flatOf(const std::vector<V>& vectors) {
    std::vector<float> out(vectors.size() * sizeof(V) / sizeof(float));
    if (!out.empty()) std::memcpy(out.data(), vectors.data(), out.size() * sizeof(float));
    return out;
}

Attribute fixedToken(std::string declared, std::string word) {
    return {std::move(declared), [word](int) { return token(word); }, {}};
}

}  // namespace

std::vector<Attribute> meshAttributes(const std::function<const Mesh&(int frame)>& at, int first) {
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
    // Beside the colours of instances, which would be lost behind a prototype's own.
    if (!at(first).colours.empty())
        attributes.push_back(
            {"float4[] primvars:vertexColor", [at](int f) { return numbers(flatOf(at(f).colours), 4); }, {"interpolation = \"vertex\""}});
    std::vector<std::string> names{"st", "vertexColor"};
    for (const NamedNumbers& named : at(first).numbers) {
        const auto of = [at, name = named.name](int f) {
            for (const NamedNumbers& now : at(f).numbers)
                if (now.name == name) return numbers(now.numbers, 1);
            return numbers(std::vector<float>(at(f).positions.size(), 0.0f), 1);
        };
        attributes.push_back({"float[] primvars:" + identifier(named.name, names), of, {"interpolation = \"vertex\""}});
    }
    attributes.push_back(fixedToken("uniform token subdivisionScheme", "none"));
    attributes.push_back(fixedToken("uniform token orientation", "rightHanded"));
    return attributes;
}

Prim materialPrim(FrameNow& now, const std::string& path, const std::string& name, bool seeThrough, const glm::vec2& metresPerUv,
                  const std::function<Look(int frame)>& at) {
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
    // What it reads its pictures with stands beside the surface.
    Prim drawn = material.children.front();
    const Look first = at(now.frames().range.first);
    now.pictures().add(
        material, drawn, path + "/" + name, first.mix ? first.mix->first : first,
        [at](int f) {
            const Look look = at(f);
            return look.mix ? look.mix->first : look;
        },
        metresPerUv);
    material.children.front() = std::move(drawn);
    return material;
}

}  // namespace gswarm::usd
