// Instances along a curve, even by arc length, on frames that never flip.
#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/precise.h"
#include "core/formation/formation_kind.h"
#include "core/shape/homes.h"

namespace gswarm {
namespace {

enum class CurveMeasure { count, spacing };
enum class CurvesOver { each, all };
enum class CurveNumbers { onward, anew };

struct AlongCurve {
    ObjectId shape, second, third, fourth;
    CurvesOver over;
    CurveNumbers numbers;
    ObjectId curveNumber;
    CurveMeasure measure;
    int count;
    float spacing, slide, roll, twist;
    float start, end;
    bool turned;
};

/// The curve as a shape that stands somewhere has it.
Curve standing(Curve curve, const glm::mat4& stand) {
    for (glm::vec3& point : curve.points) point = glm::vec3(stand * glm::vec4(point, 1));
    return curve;
}

/// All curves of all shapes and swarms that have a length.
std::vector<MeasuredCurve> curvesOf(const AlongCurve& a, const FormationSource& source) {
    if (!a.shape) throw Error("Choose the curve to stand on.");
    std::vector<MeasuredCurve> curves;
    const auto take = [&](const Curve& curve) {
        if (MeasuredCurve measured(curve); measured.length() > 0) curves.push_back(std::move(measured));
    };
    for (const ObjectId id : {a.shape, a.second, a.third, a.fourth}) {
        if (id.type() == ObjectType::swarm)
            for (const StandingShape& shape : source.shown(id))
                for (const Curve& curve : shape.meshes->curves) take(standing(curve, shape.stand));
        else if (id)
            for (const Curve& curve : source.shape(id)->curves) take(curve);
        source.check();
    }
    if (curves.empty())
        throw Error(
            "What it stands on has no curve; choose a line, path, circle, helix, lettering or drawing, or a swarm that repeats one.");
    return curves;
}

/// What instances are spread over in one go: a curve by itself, or all of them one behind the other.
struct CurveRun {
    std::size_t first, end;  ///< of the curves
    double length = 0;
    bool closed = true;
};

std::vector<CurveRun> runsOf(const AlongCurve& a, const std::vector<MeasuredCurve>& curves) {
    std::vector<CurveRun> runs;
    for (std::size_t c = 0; c < curves.size(); ++c) {
        if (c == 0 || a.over == CurvesOver::each) runs.push_back({c, c});
        CurveRun& run = runs.back();
        run.end = c + 1;
        run.length += curves[c].length();
        run.closed = run.closed && curves[c].closed();
    }
    return runs;
}

/// The stretch that is used, in shares of the curve, and whether it is the whole of a closed one.
double stretchOf(const AlongCurve& a) { return (double(a.end) - a.start) / 100; }
bool goesAround(const AlongCurve& a, const CurveRun& run) { return run.closed && stretchOf(a) >= 0.999999; }

double countOn(const AlongCurve& a, const CurveRun& run) {
    if (a.measure == CurveMeasure::count) return a.count;
    const double steps = std::floor(run.length * std::max(0.0, stretchOf(a)) / a.spacing + 1e-6);
    return goesAround(a, run) ? std::max(1.0, steps) : steps + 1;
}

double count(const AlongCurve& a, const FormationSource& source) {
    const auto curves = curvesOf(a, source);
    double sum = 0;
    for (const CurveRun& run : runsOf(a, curves)) sum += countOn(a, run);
    return sum;
}

/// The curve of a run on which a distance lies, and how far along it that is. The end of an open one is its own, that of a closed one
/// its beginning, where another stands: there the next curve begins.
std::pair<std::size_t, double> onCurve(const std::vector<MeasuredCurve>& curves, const CurveRun& run, double along) {
    std::size_t c = run.first;
    const auto past = [&] { return along > curves[c].length() * (curves[c].closed() ? 1 - 1e-6 : 1 + 1e-6); };
    for (; c + 1 < run.end && past(); ++c) along -= curves[c].length();
    return {c, std::max(along, 0.0)};
}

Homes make(const AlongCurve& a, const FormationSource& source) {
    Homes homes;
    homes.anew = a.numbers == CurveNumbers::anew;
    const auto curves = curvesOf(a, source);
    const auto runs = runsOf(a, curves);
    for (std::size_t r = 0; r < runs.size(); ++r) {
        source.check();
        const CurveRun& run = runs[r];
        const auto n = static_cast<int>(countOn(a, run));
        const double whole = run.length * stretchOf(a), first = run.length * a.start / 100;
        const double step = a.measure == CurveMeasure::spacing ? a.spacing : whole / std::max(1, goesAround(a, run) ? n : n - 1);
        for (int k = 0; k < n; ++k) {
            double along = step * k + whole * a.slide / 100;
            // What slides over the end comes in at the beginning; at slide 0 the last stays at the end.
            if (along < 0 || along > whole * (1 + 1e-9)) along -= std::floor(along / whole) * whole;
            const auto [c, there] = onCurve(curves, run, first + along);
            const auto station = curves[c].at(there);
            const double roll = a.roll + a.twist * along / std::max(run.length, 1e-12);
            const auto half = precise::sineCosine(roll / 2);
            const glm::quat rolled(static_cast<float>(half.cosine), 0, 0, static_cast<float>(half.sine));
            homes.add(station.place, a.turned ? station.frame * rolled : glm::quat(1, 0, 0, 0),
                      static_cast<std::uint64_t>(r) << 32 | static_cast<std::uint32_t>(k));
            homes.element.push_back(static_cast<std::uint32_t>(c));
        }
    }
    if (a.curveNumber) {
        homes.extras.push_back({HomeExtra::What::named, {}, a.curveNumber, false, {}});
        homes.extras.back().values.assign(homes.element.begin(), homes.element.end());
    }
    return homes;
}

Spacing spacing(const AlongCurve& a) {
    return a.measure == CurveMeasure::spacing && a.turned ? Spacing{{{{0, 0, a.spacing}}}, 0, true} : Spacing{};
}

/// What has curves to stand along.
const std::vector<ObjectType> onCurves = {ObjectType::shape, ObjectType::swarm};

}  // namespace

const FormationKind alongCurveFormation = sampled(
    stores(
        DescribeFormation<AlongCurve>("alongCurve", "Along a curve",
                                      "Even along curves: a path, circle, helix, lettering, or all of a swarm")
            .found("path bezier wire chain string beads")
            .reference("shape", &AlongCurve::shape, onCurves, "The curve they stand on: a shape, or a swarm whose instances are curves")
            .needs(Needs::curve)
            .label("Curve")
            .reference("second", &AlongCurve::second, onCurves, "Another curve behind the first, or a swarm of curves")
            .needs(Needs::curve)
            .label("Second curve")
            .optional()
            .since(2)
            .reference("third", &AlongCurve::third, onCurves, "Another curve behind these, or a swarm of curves")
            .needs(Needs::curve)
            .label("Third curve")
            .optional()
            .since(2)
            .reference("fourth", &AlongCurve::fourth, onCurves, "Another curve behind these, or a swarm of curves")
            .needs(Needs::curve)
            .label("Fourth curve")
            .optional()
            .since(2)
            .choice("over", &AlongCurve::over, {{"each", "Each curve"}, {"all", "All curves together"}},
                    "Whether count or spacing is for each curve, or goes on from one to the next. Curves are those of all shapes, and of a "
                    "lettering, drawing or swarm all that it has")
            .label("Spread over")
            .since(2)
            .migrated({2, {}, nullptr})
            .choice(
                "numbers", &AlongCurve::numbers, {{"onward", "Run on"}, {"anew", "Begin anew"}},
                "Whether the number, share and count that gestures, patterns and formulas go by run through all curves, or are those on "
                "each curve")
            .since(3)
            .migrated({3, {}, nullptr})
            .reference("curveNumber", &AlongCurve::curveNumber, {ObjectType::namedValue},
                       "A named value that gets which curve it stands on, 0 for the first")
            .label("Curve number")
            .optional()
            .begins("curve")
            .since(3)
            .choice("measure", &AlongCurve::measure, {{"count", "Count"}, {"spacing", "Spacing"}}, "Whether the count or the step is given")
            .whole("count", &AlongCurve::count, 24, {1, 400}, "How many instances on each curve, or on all together")
            .hard(1, 1e9)
            .only("measure", {"count"})
            .length("spacing", &AlongCurve::spacing, 0.5, {0.02, 4}, "From one to the next, along the curve")
            .hard(1e-5, 1e5)
            .only("measure", {"spacing"})
            .number("start", &AlongCurve::start, 0, {0, 100}, "Where on the curve the first stands")
            .unit("%")
            .hard(0, 100)
            .number("end", &AlongCurve::end, 100, {0, 100}, "Where on the curve the last stands")
            .unit("%")
            .hard(0, 100)
            .number("slide", &AlongCurve::slide, 0, {-100, 100}, "Moves all along; what leaves at the end comes in at the beginning")
            .unit("%")
            .hard(-1e5, 1e5)
            .toggle("turned", &AlongCurve::turned, true, "Each is turned with the curve")
            .angle("roll", &AlongCurve::roll, 0, {-180, 180}, "Turn about the curve")
            .only("turned", {"on"})
            .angle("twist", &AlongCurve::twist, 0, {-720, 720}, "Further turn about the curve from its beginning to its end")
            .only("turned", {"on"}),
        count, make, spacing),
    {{"count", fixedNumbers({22})}});

}  // namespace gswarm
