#pragma once
#include <functional>

#include "core/base/float_picture.h"
#include "core/material/material.h"
#include "core/scene/describe.h"

namespace gswarm {

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

extern const MaterialKind plainMaterial, mixedMaterial;

}  // namespace gswarm
