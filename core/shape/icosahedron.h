#pragma once
#include "core/shape/mesh.h"

namespace gswarm {

/// A unit ball of 20 · frequency² triangles: an icosahedron's faces divided and pushed out to the ball (class I). Every
/// vertex is one corner; twelve of them have five neighbours, all others six. Neither normals nor UV of its own.
Mesh geodesicSphere(int frequency);

/// A ball of a radius from a unit one without UV: longitude and latitude, cut open along −Z so that no triangle goes
/// around the back. Normals point outward.
Mesh ballFromUnit(const Mesh& unit, float radius);

}  // namespace gswarm
