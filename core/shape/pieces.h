#pragma once
#include <glm/gtc/quaternion.hpp>

#include "core/base/progress.h"
#include "core/shape/mesh.h"

namespace gswarm {

enum class PieceMode { parts, faces };

/// A part of a broken mesh. Its mesh is in the piece's own axes: placed at its home with its rotation it lies where it
/// was.
struct BrokenPiece {
    Mesh mesh;
    glm::vec3 home;      ///< middle of its surface by area
    glm::quat rotation;  ///< +Y its normal; closed parts, which have none, are not turned
    glm::vec2 uvCentre;  ///< mean UV by area
};

/// More pieces than this are refused with the figure.
inline constexpr std::size_t mostPieces = 60'000;

/// How many pieces there are, before any is made.
std::size_t countPieces(const Mesh& mesh, PieceMode mode);

/// The connected parts of a mesh or its single faces, in the order of their first faces. Throws Error beyond mostPieces.
std::vector<BrokenPiece> piecesOf(const Mesh& mesh, PieceMode mode, Progress* progress);

}  // namespace gswarm
