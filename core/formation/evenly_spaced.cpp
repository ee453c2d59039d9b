// Instances on a mesh, no two nearer than a distance.
#include "core/formation/evenly_spaced.h"

#include <algorithm>
#include <cmath>

#include "core/base/chance.h"
#include "core/base/error.h"
#include "core/formation/spaced_points.h"
#include "core/formation/surface_darts.h"
#include "core/shape/homes.h"
#include "core/shape/inside.h"

namespace gswarm {
namespace {

/// Share of a flat area that discs of half the distance cover once no more fit (random sequential adsorption).
constexpr double coverage = 0.547;

enum class EvenMeasure { distance, count };

struct EvenlySpaced {
    ObjectId shape;
    EvenMeasure measure;
    float distance;
    int count, seed;
};

/// A part of a triangle that may still have room: its corners in barycentric shares.
struct Fragment {
    std::uint32_t triangle;
    glm::vec2 a, b, c;
};

class Filler {
  public:
    Filler(const Mesh& mesh, float distance, std::uint32_t seed, std::size_t most, std::size_t expected)
        : mesh_(mesh), distance_(distance), seed_(seed), most_(most), spaced_(distance, expected) {}

    bool offer(const SurfacePoint& point) {
        const glm::vec3 place = placeOn(mesh_, point);
        if (!spaced_.fits(place)) return false;
        if (points_.size() >= most_) throw Error("More instances would fit than may be; choose a larger distance.");
        spaced_.add(place);
        points_.push_back(point);
        return true;
    }
    void fill(std::uint32_t triangle) {
        stack_.push_back({triangle, {0, 0}, {1, 0}, {0, 1}});
        while (!stack_.empty()) {
            const Fragment f = stack_.back();
            stack_.pop_back();
            visit(f);
        }
    }
    SurfacePoints take() { return std::move(points_); }
    std::uint64_t next = 0;  ///< number of the next dart

  private:
    glm::vec3 at(std::uint32_t t, const glm::vec2& share) const { return placeOn(mesh_, {t, share.x, share.y, 0}); }

    void visit(const Fragment& f) {
        const glm::vec3 a = at(f.triangle, f.a), b = at(f.triangle, f.b), c = at(f.triangle, f.c);
        const float reach = distance_ * distance_;
        // A ball around a point covers a fragment if it covers its corners.
        const auto near = [&](const glm::vec3& p, const glm::vec3& q) { return glm::dot(p - q, p - q) < reach; };
        const bool open = spaced_.around((a + b + c) / 3.0f, [&](const glm::vec3& p) { return !(near(p, a) && near(p, b) && near(p, c)); });
        if (!open) return;
        const float longest = std::max({glm::dot(a - b, a - b), glm::dot(b - c, b - c), glm::dot(c - a, c - a)});
        if (longest < reach * 0.0004f) {
            offer({f.triangle, (f.a.x + f.b.x + f.c.x) / 3, (f.a.y + f.b.y + f.c.y) / 3, next++});
            return;
        }
        float u = chance(seed_, next, 2), v = chance(seed_, next, 3);
        if (u + v > 1) u = 1 - u, v = 1 - v;
        const glm::vec2 share = f.a * (1 - u - v) + f.b * u + f.c * v;
        offer({f.triangle, share.x, share.y, next++});
        const glm::vec2 ab = (f.a + f.b) * 0.5f, bc = (f.b + f.c) * 0.5f, ca = (f.c + f.a) * 0.5f;
        stack_.push_back({f.triangle, f.a, ab, ca});
        stack_.push_back({f.triangle, ab, f.b, bc});
        stack_.push_back({f.triangle, ca, bc, f.c});
        stack_.push_back({f.triangle, ab, bc, ca});
    }

    const Mesh& mesh_;
    float distance_;
    std::uint32_t seed_;
    std::size_t most_;
    SpacedPoints spaced_;
    SurfacePoints points_;
    std::vector<Fragment> stack_;
};

/// The widest distance found at which at least as many points fit as wanted.
SurfacePoints byCount(const Mesh& mesh, const EvenlySpaced& e, const FormationSource& source) {
    const auto wanted = static_cast<std::size_t>(e.count);
    const auto seed = static_cast<std::uint32_t>(e.seed);
    double low = 0, high = 0, distance = std::sqrt(areaOf(mesh) * coverage / (0.785398 * e.count));
    SurfacePoints best;
    FormationSource evenly;  // the density does not change how far apart they are
    evenly.progress = source.progress;
    for (int step = 0; step < 12; ++step) {
        source.report(step / 12.0);
        SurfacePoints points = evenlySpacedPoints(mesh, static_cast<float>(distance), seed, 4 * wanted + 64, evenly);
        const auto found = static_cast<double>(points.size());
        if (points.size() >= wanted) {
            low = distance;
            best = std::move(points);
            if (found <= e.count * 1.01) break;
        } else {
            high = distance;
        }
        if (low > 0 && high > 0)
            distance = (low + high) / 2;
        else
            distance *= std::clamp(std::sqrt(found / e.count), 0.5, 1.5) * (points.size() < wanted ? 0.985 : 1.01);
        if (low > 0 && high > 0 && high - low < low * 0.003) break;
    }
    best.resize(std::min(best.size(), wanted));
    return best;
}

double count(const EvenlySpaced& e, const FormationSource& source) {
    if (e.measure == EvenMeasure::count) return e.count;
    if (!e.shape) throw Error("Choose the shape to stand on.");
    return evenlySpacedGuess(areaOf(meshOf(source.shape(e.shape))), e.distance);
}

Homes make(const EvenlySpaced& e, const FormationSource& source) {
    const CarriedMesh carried = carriedMesh(e.shape, source);
    const Mesh& rest = carried.rest->mesh();
    const auto spread = [&] {
        if (e.measure == EvenMeasure::count) return byCount(rest, e, source);
        return evenlySpacedPoints(rest, e.distance, static_cast<std::uint32_t>(e.seed), static_cast<std::size_t>(mostInstances), source);
    };
    ContentHash key;
    key.add("evenly spaced");
    for (const std::uint64_t part : {carried.rest->hash, std::uint64_t(e.measure), std::uint64_t(e.count), std::uint64_t(e.seed)})
        key.add(part);
    key.add(double(e.distance));
    return homesOn(carried.now->mesh(), *source.kept(key.value(), spread));
}

/// By count the distance follows from the mesh, so only the distance given is known here.
Spacing spacing(const EvenlySpaced& e) { return e.measure == EvenMeasure::distance ? Spacing{{}, e.distance, true} : Spacing{}; }

}  // namespace

SurfacePoints evenlySpacedPoints(const Mesh& mesh, float distance, std::uint32_t seed, std::size_t most, const FormationSource& source) {
    const SurfaceDarts darts(mesh, seed);
    const double guess = evenlySpacedGuess(darts.area(), distance);
    Filler filler(mesh, distance, seed, most, static_cast<std::size_t>(std::min(guess, double(most))));
    const auto quick = static_cast<std::uint64_t>(3 * std::min(guess, double(most))) + 16;
    for (; filler.next < quick; ++filler.next) {
        if (filler.next % 16384 == 0) source.check(), source.report(0.5 * static_cast<double>(filler.next) / static_cast<double>(quick));
        filler.offer(darts.dart(filler.next));
    }
    const std::size_t triangles = mesh.triangleCount();
    for (std::size_t t = 0; t < triangles; ++t) {
        if (t % 4096 == 0) source.check(), source.report(0.5 + 0.5 * static_cast<double>(t) / static_cast<double>(triangles));
        filler.fill(static_cast<std::uint32_t>(t));
    }
    return filler.take();
}

double evenlySpacedGuess(double area, double distance) { return std::max(1.0, coverage * area / (0.785398 * distance * distance)); }

const FormationKind evenlySpacedFormation = fittedBy(
    sampled(
        guessed(stores(DescribeFormation<EvenlySpaced>("evenlySpaced", "Evenly on a mesh", "Over a surface, no two nearer than a distance")
                           .found("scatter surface poisson blue noise even")
                           .reference("shape", &EvenlySpaced::shape, {ObjectType::shape}, "The surface they stand on")
                           .needs(Needs::surface)
                           .choice("measure", &EvenlySpaced::measure, {{"distance", "Distance"}, {"count", "Count"}},
                                   "Whether the distance or the count is given")
                           .length("distance", &EvenlySpaced::distance, 0.5, {0.05, 4}, "No two stand nearer than this; as many as fit")
                           .hard(1e-4, 1e5)
                           .only("measure", {"distance"})
                           .whole("count", &EvenlySpaced::count, 400, {1, 4000}, "How many, spread as far apart as they can be")
                           .hard(1, 1e9)
                           .only("measure", {"count"})
                           .whole("seed", &EvenlySpaced::seed, 1, {1, 100}, "Another seed, other places")
                           .hard(0, 1e9),
                       count, make, spacing)),
        {{"count", fixedNumbers({40})}, {"distance", fixedNumbers({0.75})}}),
    "distance");

}  // namespace gswarm
