#include "core/exchange/gltf_pictures.h"

#include <tiny_gltf.h>

#include "core/exchange/gltf_looks.h"
#include "core/exchange/png.h"
#include "core/exchange/surface_images.h"

namespace gswarm::gltf {
namespace {

/// Its texture, repeated as often as the material says.
template <class Info>
void refer(tinygltf::Model& model, Info& info, int texture, float repeats) {
    info.index = texture;
    if (repeats == 1) return;
    const auto pair = [](double x, double y) { return tinygltf::Value(tinygltf::Value::Array{tinygltf::Value(x), tinygltf::Value(y)}); };
    const double times = static_cast<double>(repeats);
    // Ours begin at the lower edge, glTF's at the upper one.
    info.extensions["KHR_texture_transform"] =
        tinygltf::Value(tinygltf::Value::Object{{"offset", pair(0, 1 - times)}, {"scale", pair(times, times)}});
    use(model, "KHR_texture_transform");
}

/// Its texture, of which a part is seen.
template <class Info>
void referToPart(tinygltf::Model& model, Info& info, int texture, const glm::vec4& place) {
    info.index = texture;
    const auto pair = [](double x, double y) { return tinygltf::Value(tinygltf::Value::Array{tinygltf::Value(x), tinygltf::Value(y)}); };
    info.extensions["KHR_texture_transform"] =
        tinygltf::Value(tinygltf::Value::Object{{"offset", pair(place.x, place.y)}, {"scale", pair(place.z, place.w)}});
    use(model, "KHR_texture_transform");
}

}  // namespace

Pictures::Pictures(tinygltf::Model& model, std::function<int(std::span<const char>)> addView)
    : model_(model), addView_(std::move(addView)) {}

int Pictures::texture(const SurfacePictures& pictures, Use use) {
    const FloatPicture* colour = pictures.shown ? pictures.shown->sheet.get() : pictures.colour.get();
    const FloatPicture* own = use == Use::colour ? colour : use == Use::roughness ? pictures.roughness.get() : pictures.glow.get();
    // Its own light has the colour of both pictures.
    const bool both = use == Use::ownGlow && colour;
    const auto [entry, fresh] =
        made_.try_emplace({own, both ? colour : nullptr, use == Use::roughness ? this : nullptr}, static_cast<int>(model_.textures.size()));
    if (!fresh) return entry->second;
    const Image image = use == Use::colour      ? colourImage(*own)
                        : use == Use::roughness ? roughnessImage(*own)
                                                : glowImage(*own, both ? colour : nullptr);
    textureOf(image);
    return entry->second;
}

int Pictures::textureOf(const Image& image) {
    const std::string bytes = pngOf(image);
    tinygltf::Image written;
    written.mimeType = "image/png";
    written.bufferView = addView_(bytes);
    model_.images.push_back(std::move(written));
    tinygltf::Texture texture;
    texture.source = static_cast<int>(model_.images.size()) - 1;
    model_.textures.push_back(texture);
    return static_cast<int>(model_.textures.size()) - 1;
}

Pictures::Normals Pictures::normals(const FloatPicture& bump, const glm::vec2& slope) {
    const auto [entry, fresh] = normals_.try_emplace({&bump, slope.x, slope.y});
    if (fresh) {
        const NormalImage made = normalImage(bump, slope);
        entry->second = {textureOf(made.image), made.scale};
    }
    return entry->second;
}

void Pictures::add(tinygltf::Material& material, const Look& look, const glm::vec2& metresPerUv) {
    if (!look.pictures) return;
    const SurfacePictures& pictures = *look.pictures;
    auto& surface = material.pbrMetallicRoughness;
    if (pictures.shown) {
        const glm::vec4 place = placeOnSheet(*pictures.shown, pictures.which);
        const int sheet = texture(pictures, Use::colour);
        referToPart(model_, surface.baseColorTexture, sheet, place);
        if (look.plain.emission > 0) referToPart(model_, material.emissiveTexture, sheet, place);
        return;
    }
    if (const glm::vec2 slope = bumpSlope(pictures, metresPerUv); slope != glm::vec2(0)) {
        const Normals made = normals(*pictures.bump, slope);
        refer(model_, material.normalTexture, made.texture, pictures.repeats);
        material.normalTexture.scale = made.scale;
    }
    if (pictures.colour) refer(model_, surface.baseColorTexture, texture(pictures, Use::colour), pictures.repeats);
    if (pictures.roughness) refer(model_, surface.metallicRoughnessTexture, texture(pictures, Use::roughness), pictures.repeats);
    const bool own = look.plain.emissionColour == glm::vec3(0);
    if (look.plain.emission > 0 && pictures.glow)
        refer(model_, material.emissiveTexture, texture(pictures, own ? Use::ownGlow : Use::glow), pictures.repeats);
    else if (look.plain.emission > 0 && own && pictures.colour)
        refer(model_, material.emissiveTexture, texture(pictures, Use::colour), pictures.repeats);
}

}  // namespace gswarm::gltf
