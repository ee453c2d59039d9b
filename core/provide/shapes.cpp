#include "core/provide/shapes.h"

#include <new>
#include <stdexcept>

#include "core/base/error.h"
#include "core/provide/file_hash.h"
#include "core/resolve/resolve.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

constexpr int mostDepth = 64;

std::size_t bytesOf(const Mesh& m) { return m.positions.size() * 60 + m.triangles.size() * 4 + m.faces.size() * 4; }

std::size_t bytesOf(const ShapeMeshes& meshes) {
    std::size_t bytes = sizeof meshes;
    for (const auto& level : meshes.level) bytes += bytesOf(*level);
    return bytes;
}

}  // namespace

std::uint64_t Shapes::hashOf(const Object& shape, int depth) const {
    if (depth > mostDepth) throw Error("It is made from shapes made from shapes, more than " + std::to_string(mostDepth) + " deep.");
    const Part& part = shape.part("maker");
    ContentHash hash;
    hash.add(resolve(scene_, part, frame_).hash);
    hash.add(filesHash(part, folder_, store_.fileHashes()));
    for (const Value& value : part.values) {
        const auto* other = std::get_if<ObjectId>(&value);
        if (!other || !scene_.find(*other)) continue;
        const std::uint64_t part = other->type() == ObjectType::swarm ? formOf(*other).hash : hashOf(scene_.at(*other), depth + 1);
        if (part == 0) return 0;
        hash.add(part);
    }
    return hash.value();
}

const SwarmForm& Shapes::formOf(ObjectId swarm) const {
    if (!formOf_) throw Error("A shape that is made of a swarm can't be used here; choose another one.");
    const auto found = forms_.find(swarm);
    return found != forms_.end() ? found->second : forms_.emplace(swarm, formOf_(swarm)).first->second;
}

std::shared_ptr<const ShapeMeshes> Shapes::get(ObjectId id) const {
    const Object* shape = scene_.find(id);
    if (!shape) throw Error("The shape was deleted; choose another one.");
    try {
        const Part& part = shape->part("maker");
        if (const auto& kind = static_cast<const ShapeKind&>(*part.kind); kind.carried)
            return formOf(kind.swarm(resolve(scene_, part, frame_).data.get())).carried();
        const std::uint64_t key = hashOf(*shape, 0);
        const std::function<std::shared_ptr<const ShapeMeshes>()> make = [&] {
            const ResolvedPart maker = resolve(scene_, part, frame_);
            progress_.say(shape->name + ": making the shape");
            const ShapeSource source{folder_, [this](ObjectId other) { return get(other); },
                                     [this](ObjectId swarm) { return formOf(swarm).shown(); }, &progress_};
            auto made = std::make_shared<ShapeMeshes>(makeShape(static_cast<const ShapeKind&>(*maker.kind), maker.data.get(), source));
            made->hash = key;
            return std::shared_ptr<const ShapeMeshes>(std::move(made));
        };
        if (key == 0) return make();
        return store_.get<ShapeMeshes>(key, make, [](const ShapeMeshes& m) { return bytesOf(m); });
    } catch (const Error& error) {
        throw Error(shape->name + ": " + error.what());
    } catch (const std::bad_alloc&) {
        throw Error(shape->name + ": There is not enough memory for it; make it lighter.");
    } catch (const std::length_error&) {
        throw Error(shape->name + ": It would be larger than memory can be; make it lighter.");
    }
}

std::shared_ptr<const PieceSet> Shapes::pieces(ObjectId shape, PieceMode mode) const {
    const auto whole = get(shape);
    ContentHash key;
    key.add("pieces");
    key.add(whole->hash);
    key.add(static_cast<std::uint64_t>(mode));
    const std::function<std::shared_ptr<const PieceSet>()> make = [&] {
        auto set = std::make_shared<PieceSet>();
        ContentHash hash = key;
        for (BrokenPiece& piece : piecesOf(whole->mesh(), mode, &progress_)) {
            hash.add(static_cast<std::uint64_t>(set->size()));
            auto meshes = std::make_shared<ShapeMeshes>();
            meshes->bounds = boundsOf(piece.mesh);
            meshes->hash = hash.value();
            meshes->level.fill(std::make_shared<const Mesh>(std::move(piece.mesh)));
            set->push_back(std::move(meshes));
        }
        return std::shared_ptr<const PieceSet>(std::move(set));
    };
    const auto bytes = [](const PieceSet& set) {
        std::size_t sum = sizeof set;
        for (const auto& piece : set) sum += sizeof *piece + bytesOf(piece->mesh());
        return sum;
    };
    return store_.get<PieceSet>(key.value(), make, bytes);
}

}  // namespace gswarm
