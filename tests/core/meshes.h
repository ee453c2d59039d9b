#pragma once
#include <gtest/gtest.h>

#include <initializer_list>
#include <string>
#include <utility>

#include "core/scene/classes.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"

/// Shapes made straight from their kinds, and what sound meshes must hold to.
namespace gswarm::making {

using Numbered = std::vector<std::pair<std::string, std::vector<double>>>;
using Chosen = std::vector<std::pair<std::string, std::string>>;

/// A kind's shape with some numbers and choices changed.
ShapeMeshes shape(const std::string& kind, const Numbered& numbers = {}, const Chosen& choices = {}, const ShapeSource& source = {});
Mesh mesh(const std::string& kind, const Numbered& numbers = {}, const Chosen& choices = {}, const ShapeSource& source = {});

/// Stands for a shape where a source gives some.
ObjectId shapeNumber(std::uint64_t number);

/// No rim, every side shared by faces that run around it opposite ways, and the outside outside.
void expectClosed(const Mesh& mesh, const std::string& what);
/// Unit normals on the side of their triangles, tangents at right angles, finite UV, faces in order.
void expectSound(const Mesh& mesh, const std::string& what);
/// Signed volume: negative if the mesh is inside out.
double signedVolume(const Mesh& mesh);

}  // namespace gswarm::making
