// The pieces of a broken mesh, each at its own home. Stock that repeats "its own pieces" puts the mesh together again.
#include "core/shape/pieces.h"

#include "core/base/error.h"
#include "core/formation/surface_darts.h"
#include "core/shape/homes.h"

namespace gswarm {
namespace {

struct Pieces {
    ObjectId shape;
    PieceMode into;
};

double count(const Pieces& p, const FormationSource& source) {
    if (!p.shape) throw Error("Choose the shape that is broken up.");
    const auto shape = source.shape(p.shape);
    return static_cast<double>(countPieces(meshOf(shape), p.into));
}

Homes make(const Pieces& p, const FormationSource& source) {
    if (!p.shape) throw Error("Choose the shape that is broken up.");
    const auto shape = source.shape(p.shape);
    Homes homes;
    for (const BrokenPiece& piece : piecesOf(meshOf(shape), p.into, source.progress)) {
        homes.element.push_back(static_cast<std::uint32_t>(homes.count()));
        homes.add(piece.home, piece.rotation, homes.count());
    }
    return homes;
}

}  // namespace

const FormationKind piecesFormation = beginning(
    sampled(stores(DescribeFormation<Pieces>("pieces", "Pieces of a mesh", "Breaks a shape up; every piece has its home where it was")
                       .found("fracture break shatter explode shards fragments")
                       .reference("shape", &Pieces::shape, {ObjectType::shape}, "The shape that is broken up")
                       .needs(Needs::faces)
                       .choice("into", &Pieces::into, {{"parts", "Connected parts"}, {"faces", "Single faces"}}, "What counts as a piece"),
                   count, make),
            {{"into", std::string("faces")}}),
    {{"into", std::string("faces")}});

}  // namespace gswarm
