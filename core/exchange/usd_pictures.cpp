#include "core/exchange/usd_pictures.h"

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/exchange/png.h"
#include "core/exchange/surface_images.h"

namespace gswarm::usd {
namespace {

/// A shader of USD's own, whose result is connected to an input.
Prim shader(const std::string& name, const std::string& id, const std::string& outputs) {
    return {"Shader", name, {}, {}, {"uniform token info:id = \"" + id + "\"", outputs}, {}};
}

/// What reads the UV, repeated as often as the material says.
std::vector<Prim> placeReaders(const std::string& path, float repeats) {
    Prim reader = shader("Place", "UsdPrimvarReader_float2", "float2 outputs:result");
    reader.lines.push_back("string inputs:varname = \"st\"");
    Prim repeated = shader("Repeated", "UsdTransform2d", "float2 outputs:result");
    repeated.lines.push_back("float2 inputs:in.connect = <" + path + "/Place.outputs:result>");
    repeated.attributes.push_back({"float2 inputs:scale", [repeats](int) { return tuple({repeats, repeats}); }, {}});
    return {reader, repeated};
}

/// Drops what an input has of itself, and connects it.
void connect(Prim& surface, const std::string& declared, const std::string& source) {
    std::erase_if(surface.attributes, [&](const Attribute& attribute) { return attribute.declared == declared; });
    std::erase_if(surface.lines, [&](const std::string& line) { return line.starts_with(declared + ".connect"); });
    surface.lines.push_back(declared + ".connect = <" + source + ">");
}

}  // namespace

std::filesystem::path Pictures::folderOf(const std::filesystem::path& stage) {
    return stage.parent_path() / (stage.stem().string() + "-pictures");
}

std::string Pictures::fileOf(const SurfacePictures& pictures, Use use) {
    const auto colour = pictures.colour;
    const auto own = use == Use::colour ? colour : use == Use::roughness ? pictures.roughness : pictures.glow;
    const bool both = use == Use::ownGlow && colour;
    const char* what = use == Use::colour ? "colour" : use == Use::roughness ? "roughness" : "glow";
    const auto [entry, fresh] = names_.try_emplace({own.get(), both ? colour.get() : nullptr, use == Use::roughness ? this : nullptr});
    if (fresh) {
        entry->second = std::to_string(names_.size()) + "-" + what + ".png";
        const Image image = use == Use::colour      ? colourImage(*own)
                            : use == Use::roughness ? roughnessImage(*own)
                                                    : glowImage(*own, both ? colour.get() : nullptr);
        made_[entry->second] = pngOf(image, {false, {}});
    }
    return entry->second;
}

std::string Pictures::normalsOf(const FloatPicture& bump, const glm::vec2& slope) {
    const auto [entry, fresh] = normals_.try_emplace({&bump, slope.x, slope.y});
    if (fresh) {
        entry->second = std::to_string(normals_.size()) + "-normals.png";
        made_[entry->second] = pngOf(plainNormalImage(bump, slope), {false, {}});
    }
    return entry->second;
}

std::string Pictures::sheetOf(const ShownPictures& shown, int frame) {
    const auto [entry, fresh] = sheets_.try_emplace(shown.key);
    if (!fresh) return entry->second;
    char number[32];
    std::snprintf(number, sizeof number, "shown.%04d", frame);
    std::string name = std::string(number) + ".png";
    for (int other = 2; made_.contains(name); ++other) name = std::string(number) + "-" + std::to_string(other) + ".png";
    made_[name] = pngOf(colourImage(*shown.sheet), {false, {}});
    return entry->second = name;
}

void Pictures::addShown(Prim& material, Prim& surface, const std::string& path, const Look& now,
                        const std::function<Look(int frame)>& look) {
    const auto placeAt = [look](int frame) {
        const Look at = look(frame);
        if (!at.pictures || !at.pictures->shown) return glm::vec4(0, 0, 1, 1);
        return placeOnSheet(*at.pictures->shown, at.pictures->which);
    };
    std::vector<Prim> readers = placeReaders(path, 1);
    readers.back().attributes = {{"float2 inputs:scale",
                                  [placeAt](int frame) {
                                      const glm::vec4 place = placeAt(frame);
                                      return tuple({place.z, place.w});
                                  },
                                  {}},
                                 {"float2 inputs:translation",
                                  [placeAt](int frame) {
                                      // USD's pictures begin at the lower edge.
                                      const glm::vec4 place = placeAt(frame);
                                      return tuple({place.x, 1 - place.y - place.w});
                                  },
                                  {}}};
    for (Prim& reader : readers) material.children.push_back(std::move(reader));
    const auto texture = [&](const char* name, const std::function<glm::vec3(const Look&)>& times) {
        Prim prim = shader(name, "UsdUVTexture", "float3 outputs:rgb");
        prim.lines.push_back("token inputs:sourceColorSpace = \"sRGB\"");
        prim.lines.push_back("float2 inputs:st.connect = <" + path + "/Repeated.outputs:result>");
        prim.attributes.push_back({"asset inputs:file",
                                   [this, look](int frame) {
                                       const Look at = look(frame);
                                       const bool there = at.pictures && at.pictures->shown;
                                       return asset(there ? "./" + folder_.filename().string() + "/" + sheetOf(*at.pictures->shown, frame)
                                                          : "");
                                   },
                                   {}});
        prim.attributes.push_back({"float4 inputs:scale",
                                   [look, times](int frame) {
                                       const glm::vec3 c = times(look(frame));
                                       return tuple({c.x, c.y, c.z, 1});
                                   },
                                   {}});
        material.children.push_back(std::move(prim));
    };
    texture("ColourPicture", [](const Look& l) { return glm::vec3(l.plain.colour); });
    connect(surface, "color3f inputs:diffuseColor", path + "/ColourPicture.outputs:rgb");
    if (now.plain.emission <= 0) return;
    texture("GlowPicture", [](const Look& l) { return glm::vec3(l.plain.colour) * l.plain.emission; });
    connect(surface, "color3f inputs:emissiveColor", path + "/GlowPicture.outputs:rgb");
}

void Pictures::add(Prim& material, Prim& surface, const std::string& path, const Look& now, const std::function<Look(int frame)>& look,
                   const glm::vec2& metresPerUv) {
    const auto reading = [&](const char* name, const std::string& file, const char* space) {
        Prim prim = shader(name, "UsdUVTexture", "float3 outputs:rgb");
        prim.lines.push_back("float outputs:g");
        prim.lines.push_back("asset inputs:file = @./" + folder_.filename().string() + "/" + file + "@");
        prim.lines.push_back(std::string("token inputs:sourceColorSpace = \"") + space + "\"");
        for (const char* wrap : {"wrapS", "wrapT"}) prim.lines.push_back(std::string("token inputs:") + wrap + " = \"repeat\"");
        prim.lines.push_back("float2 inputs:st.connect = <" + path + "/Repeated.outputs:result>");
        return prim;
    };
    const auto texture = [&](const char* name, const SurfacePictures& pictures, Use use, std::function<glm::vec3(const Look&)> times) {
        Prim prim = reading(name, fileOf(pictures, use), use == Use::roughness ? "raw" : "sRGB");
        prim.attributes.push_back({"float4 inputs:scale",
                                   [look, times](int frame) {
                                       const glm::vec3 c = times(look(frame));
                                       return tuple({c.x, c.y, c.z, 1});
                                   },
                                   {}});
        material.children.push_back(std::move(prim));
    };
    if (!now.pictures) return;
    if (now.pictures->shown) return addShown(material, surface, path, now, look);
    const SurfacePictures& pictures = *now.pictures;
    for (Prim& reader : placeReaders(path, pictures.repeats)) material.children.push_back(std::move(reader));
    const auto ownColour = [](const Look& l) { return glm::vec3(l.plain.colour); };
    if (pictures.colour) {
        texture("ColourPicture", pictures, Use::colour, ownColour);
        connect(surface, "color3f inputs:diffuseColor", path + "/ColourPicture.outputs:rgb");
    }
    if (pictures.roughness) {
        texture("RoughnessPicture", pictures, Use::roughness, [](const Look& l) { return glm::vec3(l.plain.roughness); });
        connect(surface, "float inputs:roughness", path + "/RoughnessPicture.outputs:g");
    }
    if (const glm::vec2 slope = bumpSlope(pictures, metresPerUv); slope != glm::vec2(0)) {
        Prim prim = reading("Normals", normalsOf(*pictures.bump, slope), "raw");
        // They lean by the height of this frame; a normal's length does not count.
        const auto leaning = [look, height = pictures.bumpHeight](int frame) {
            const Look at = look(frame);
            return at.pictures ? at.pictures->bumpHeight / height : 0;
        };
        prim.attributes.push_back({"float4 inputs:scale",
                                   [leaning](int frame) {
                                       const float twice = 2 * leaning(frame);
                                       return tuple({twice, twice, 2, 1});
                                   },
                                   {}});
        prim.attributes.push_back({"float4 inputs:bias",
                                   [leaning](int frame) {
                                       const float less = -leaning(frame);
                                       return tuple({less, less, -1, 0});
                                   },
                                   {}});
        material.children.push_back(std::move(prim));
        connect(surface, "normal3f inputs:normal", path + "/Normals.outputs:rgb");
    }
    const bool own = now.plain.emissionColour == glm::vec3(0);
    if (now.plain.emission <= 0 || (!pictures.glow && !(own && pictures.colour))) return;
    texture("GlowPicture", pictures,
            !pictures.glow ? Use::colour
            : own          ? Use::ownGlow
                           : Use::glow,
            [own](const Look& l) { return (own ? glm::vec3(l.plain.colour) : l.plain.emissionColour) * l.plain.emission; });
    connect(surface, "color3f inputs:emissiveColor", path + "/GlowPicture.outputs:rgb");
}

void Pictures::write() const {
    if (made_.empty()) return;
    std::error_code failed;
    const bool fresh = std::filesystem::create_directory(folder_, failed);
    if (failed) throw Error("The folder “" + folder_.string() + "” for the pictures can't be made; nothing was written.");
    try {
        for (const auto& [name, bytes] : made_) writeFileAtomically(folder_ / name, bytes);
    } catch (...) {
        if (fresh) std::filesystem::remove_all(folder_, failed);
        throw;
    }
}

}  // namespace gswarm::usd
