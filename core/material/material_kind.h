#pragma once
#include <functional>

#include "core/base/float_picture.h"
#include "core/material/material.h"
#include "core/scene/describe.h"

namespace gswarm {

/// Which way pictures are laid over the homes of a swarm to be cut into parts.
enum class ShownAlong { flat, x, y, z };

/// Media that instances show.
struct ShownAsk {
    ObjectId media;
    ShownPictures as;  ///< all but the sheet, its moments, the parts and their tints
    ShownAlong along;  ///< `as.across` and `as.down` are 0 for as many parts as the homes stand side by side
    bool tinted;
};

/// What a kind of material may ask for beside its own numbers.
struct LookSource {
    /// Another material at the same moment; the standard one if there is none.
    std::function<Look(ObjectId)> other;
    /// The column that carries a named value of the swarm whose material it is; −1 where there is none.
    std::function<int(ObjectId)> column;
    /// What a named value is called; empty where there is none.
    std::function<std::string(ObjectId)> name;
    /// The column that carries the weight of a gesture on its rail; −1 where it is not there.
    std::function<int(ObjectId)> weight;
    /// A picture of the project's folder; null for no name, and where it can't be read, which the person is told.
    std::function<std::shared_ptr<const FloatPicture>(const std::string& file, PictureAs)> picture;
    /// What each instance of the swarm shows of media; null where they can't be shown, which the person is told.
    std::function<std::shared_ptr<const ShownPictures>(const ShownAsk&)> shown;
};

struct MaterialKind : Kind {
    std::function<Look(const void* data, const Response& shaped, const LookSource&)> look;
};

template <class T>
struct DescribeMaterial : Describe<T, MaterialKind> {
    DescribeMaterial(std::string id, std::string label, std::string summary)
        : Describe<T, MaterialKind>(Family::material, std::move(id), std::move(label), std::move(summary)) {}
};

template <class T>
MaterialKind looks(Describe<T, MaterialKind>& described, Look (*look)(const T&, const Response& shaped, const LookSource&)) {
    MaterialKind kind = described.kind();
    kind.look = [look](const void* data, const Response& shaped, const LookSource& source) {
        return look(*static_cast<const T*>(data), shaped, source);
    };
    return kind;
}

extern const MaterialKind plainMaterial, mixedMaterial, shownMaterial;

}  // namespace gswarm
