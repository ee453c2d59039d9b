#pragma once
#include <filesystem>

#include "core/scene/describe.h"
#include "core/shape/mesh.h"

namespace gswarm {

/// How finely a shape is made: 0 as the person set it, each step above has about a quarter of the triangles.
inline constexpr int detailLevels = 3;

/// Where a shape's outside files may lie.
struct ShapeSource {
    std::filesystem::path projectFolder;
};

struct ShapeKind : Kind {
    /// Throws Error if a file is missing or damaged.
    std::function<Mesh(const void*, int detail, const ShapeSource&)> make;
};

template <class T>
struct DescribeShape : Describe<T, ShapeKind> {
    DescribeShape(std::string id, std::string label, std::string summary)
        : Describe<T, ShapeKind>(Family::shape, std::move(id), std::move(label), std::move(summary)) {}
};

template <class T>
ShapeKind makes(Describe<T, ShapeKind>& described, Mesh (*make)(const T&, int, const ShapeSource&)) {
    ShapeKind kind = described.kind();
    kind.make = [make](const void* data, int detail, const ShapeSource& source) {
        return make(*static_cast<const T*>(data), detail, source);
    };
    return kind;
}

/// A path typed for an outside file, resolved. Throws Error if it leaves the project's folder or isn't there.
std::filesystem::path pathInProject(const std::string& typed, const ShapeSource& source);

extern const ShapeKind boxShape, ballShape, cardShape, meshFileShape;

}  // namespace gswarm
