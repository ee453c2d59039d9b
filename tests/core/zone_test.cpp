// Zones and weaves: every weight against a closed form written out here.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <numeric>

#include "core/base/error.h"
#include "core/edit/rail_edits.h"
#include "core/kinds/registry.h"
#include "core/scene/object_kinds.h"
#include "core/shape/shape_kind.h"
#include "core/zone/zone_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

float smooth(float x) {
    x = std::clamp(x, 0.0f, 1.0f);
    return x * x * (3 - 2 * x);
}
/// Depth below a surface over a soft edge.
float soft(float depth, float edge) { return smooth(depth / edge); }

/// A block of instances around the origin with a gesture that lifts each by its weight.
struct Weighed {
    Build b = Build::grid(15, 5, 15);
    ObjectId gesture = b.gesture();
    std::vector<InstanceRow> homes = Build::grid(15, 5, 15).rows();

    Weighed() { b.set(gesture, "position", true); }
    ObjectId zone(const std::string& kind) { return b.zone(gesture, kind); }
    /// Weights in number order, as the census of the strip has them: read through the lift.
    std::vector<float> weights(double frame = 0) const {
        std::vector<float> out;
        const auto rows = b.rows(frame);
        for (std::size_t i = 0; i < rows.size(); ++i) out.push_back(rows[i].position.y - homes[i].position.y);
        return out;
    }
    void expect(const std::function<float(const glm::vec3&)>& weight, float tolerance = 2e-6f) const {
        const auto got = weights();
        for (std::size_t i = 0; i < got.size(); ++i) {
            const glm::vec3 p = homes[i].position;
            ASSERT_NEAR(got[i], weight(p), tolerance) << p.x << ' ' << p.y << ' ' << p.z;
        }
    }
};

}  // namespace

TEST(Zone, BoxFadesFromItsFacesInward) {
    Weighed w;
    const ObjectId z = w.zone("box");
    w.b.set(z, "size", {8, 3, 6}).set(z, "softEdge", {1.5});
    w.expect([](const glm::vec3& p) { return soft(std::min({4 - std::abs(p.x), 1.5f - std::abs(p.y), 3 - std::abs(p.z)}), 1.5f); });
}

TEST(Zone, SlabActsBetweenItsPlanesTurnedWithIt) {
    Weighed w;
    const ObjectId z = w.zone("slab");
    w.b.set(z, "thickness", {4}).set(z, "softEdge", {2}).set(z, "rotation", {0, 0, 90}).set(z, "position", {1, 0, 0});
    w.expect([](const glm::vec3& p) { return soft(2 - std::abs(p.x - 1), 2); }, 1e-5f);
}

TEST(Zone, TubeIsRoundAndEnds) {
    Weighed w;
    const ObjectId z = w.zone("tube");
    w.b.set(z, "radius", {4}).set(z, "height", {3}).set(z, "softEdge", {0.8});
    w.expect([](const glm::vec3& p) { return soft(std::min(4 - std::hypot(p.x, p.z), 1.5f - std::abs(p.y)), 0.8f); });
}

TEST(Zone, ConeMeasuresAcrossItsSlantedSide) {
    Weighed w;
    const ObjectId z = w.zone("cone");
    w.b.set(z, "radius", {5}).set(z, "height", {4}).set(z, "softEdge", {1}).set(z, "position", {0, -2, 0});
    w.expect([](const glm::vec3& p) {
        const float up = p.y + 2;
        const float across = (5 * (1 - up / 4) - std::hypot(p.x, p.z)) * 4 / std::sqrt(41.0f);
        return soft(std::min(up, across), 1);
    });
}

TEST(Zone, RingIsRoundAllAround) {
    Weighed w;
    const ObjectId z = w.zone("ring");
    w.b.set(z, "radius", {4}).set(z, "thickness", {3}).set(z, "softEdge", {1});
    w.expect([](const glm::vec3& p) { return soft(1.5f - std::hypot(std::hypot(p.x, p.z) - 4, p.y), 1); });
}

TEST(Zone, EverywhereIsOne) {
    Weighed w;
    w.zone("everywhere");
    w.expect([](const glm::vec3&) { return 1.0f; });
}

TEST(Zone, NearCurveFadesAwayFromTheLine) {
    Weighed w;
    w.b.scene = addShape(w.b.scene, lineShape).scene;
    const ObjectId line = w.b.scene.named(ObjectType::shape, "Line");
    w.b.set(line, "from", {-3, 0, 0}).set(line, "to", {3, 0, 0});
    const ObjectId z = w.zone("nearCurve");
    w.b.set(z, "shape", Value(line)).set(z, "reach", {3}).set(z, "softEdge", {2});
    // The line lies along X about its middle: what lies beyond its ends measures to them.
    w.expect(
        [](const glm::vec3& p) {
            const float beyond = std::max(std::abs(p.x) - 3, 0.0f);
            return soft(3 - std::sqrt(beyond * beyond + p.y * p.y + p.z * p.z), 2);
        },
        1e-5f);
}

TEST(Zone, NearAndInsideMeshMeasureToTheSurfaceOfABox) {
    Weighed w;
    const Edit added = addShape(w.b.scene, boxShape);
    w.b.scene = added.scene;
    const ObjectId box = added.made;
    w.b.set(box, "size", {6.2, 2.4, 4.2}).set(box, "rounding", {0});
    const glm::vec3 half(3.1f, 1.2f, 2.1f);
    const auto outside = [half](const glm::vec3& p) { return glm::length(glm::max(glm::abs(p) - half, glm::vec3(0))); };
    const auto depth = [half](const glm::vec3& p) {
        const glm::vec3 d = half - glm::abs(p);
        return std::min({d.x, d.y, d.z});
    };
    Weighed inside = w;
    const ObjectId in = inside.zone("insideMesh");
    inside.b.set(in, "shape", Value(box)).set(in, "softEdge", {1});
    inside.expect([&](const glm::vec3& p) { return soft(depth(p), 1); }, 1e-5f);
    const ObjectId near = w.zone("nearMesh");
    w.b.set(near, "shape", Value(box)).set(near, "reach", {2}).set(near, "softEdge", {2});
    w.expect([&](const glm::vec3& p) { return soft(2 - (depth(p) > 0 ? depth(p) : outside(p)), 2); }, 1e-5f);
}

TEST(Zone, NearSwarmMeasuresToItsNearestInstance) {
    Weighed w;
    Edit other = addSwarm(w.b.scene);
    w.b.scene = other.scene;
    const ObjectId grid = w.b.scene.at(other.made).list("formations").front();
    w.b.set(grid, "count", {2, 1, 1}).set(grid, "spacing", {8, 1, 1}).set(other.made, "position", {0, 1, 0});
    const ObjectId z = w.zone("nearSwarm");
    w.b.set(z, "swarm", Value(other.made)).set(z, "reach", {3}).set(z, "softEdge", {3});
    w.expect(
        [](const glm::vec3& p) { return soft(3 - std::min(glm::length(p - glm::vec3(-4, 1, 0)), glm::length(p - glm::vec3(4, 1, 0))), 3); },
        1e-5f);
}

TEST(Zone, NearestTakesExactlyAsManyAsAsked) {
    Weighed w;
    const ObjectId z = w.zone("nearest");
    w.b.set(z, "count", {7}).set(z, "position", {3.2, 0.1, -2.1});
    std::vector<std::pair<float, int>> byDistance;
    for (const auto& home : w.homes) byDistance.push_back({glm::length(home.position - glm::vec3(3.2f, 0.1f, -2.1f)), home.number});
    std::sort(byDistance.begin(), byDistance.end());
    const auto weights = w.weights();
    EXPECT_FLOAT_EQ(std::accumulate(weights.begin(), weights.end(), 0.0f), 7);
    for (int k = 0; k < 7; ++k) EXPECT_EQ(weights[static_cast<std::size_t>(byDistance[static_cast<std::size_t>(k)].second)], 1) << k;
}

TEST(Zone, ChosenInstancesStayChosenWhenTheCountGrows) {
    Weighed w;
    const std::vector<std::uint64_t> ids{w.homes[3].id, w.homes[100].id, w.homes[517].id};
    w.b.scene = addChosenZone(w.b.scene, w.gesture, ids).scene;
    EXPECT_EQ(w.b.result()->cards[0].touched, 3);
    w.b.set(w.b.formation, "count", {19, 7, 19});
    EXPECT_EQ(w.b.result()->cards[0].touched, 3);
    // The same places are lifted: ids count from the middle, so they keep their homes.
    Build plain = Build::grid(19, 7, 19);
    const auto before = plain.rows(), after = w.b.rows();
    for (std::size_t i = 0; i < after.size(); ++i)
        EXPECT_EQ(after[i].position.y - before[i].position.y, std::count(ids.begin(), ids.end(), after[i].id)) << i;
}

TEST(Zone, FormulaAndNoiseGiveWeights) {
    Weighed w;
    const ObjectId z = w.zone("formula");
    w.b.set(z, "weight", Value(Formula{"clamp(x * 0.25 + 0.5, 0, 1)", {}}));
    w.expect([](const glm::vec3& p) { return std::clamp(p.x * 0.25f + 0.5f, 0.0f, 1.0f); });
    Weighed n;
    const ObjectId patches = n.zone("noise");
    n.b.set(patches, "size", {3});
    const auto weights = n.weights();
    const auto [least, most] = std::minmax_element(weights.begin(), weights.end());
    EXPECT_GE(*least, -1e-6f);
    EXPECT_LE(*most, 1 + 1e-6f);
    const double mean = std::accumulate(weights.begin(), weights.end(), 0.0) / static_cast<double>(weights.size());
    EXPECT_GT(mean, 0.25);
    EXPECT_LT(mean, 0.75);
}

TEST(Zone, SoftEdgesStayInWorldMetresWhateverTheSwarmsScale) {
    Weighed w;
    const ObjectId z = w.zone("ball");
    w.b.set(z, "radius", {6}).set(z, "softEdge", {4}).set(w.b.swarm, "scale", {0.5}).set(w.b.swarm, "position", {1, 0, 0});
    const auto rows = w.b.rows();
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const glm::vec3 home = w.homes[i].position * 0.5f + glm::vec3(1, 0, 0);
        ASSERT_NEAR(rows[i].position.y - home.y, 0.5f * soft(6 - glm::length(home), 4), 2e-6f);
    }
}

TEST(Zone, CoreAndSurfaceAreDrawnWhereTheWeightIsOneAndZero) {
    for (const Kind* kind : kindsOf(Family::zone)) {
        const auto& zone = static_cast<const ZoneKind&>(*kind);
        // What reads a picture weighs what that shows, not a form.
        if (!zone.outline || zone.prepare) continue;
        std::vector<double> numbers;
        for (const Parameter& p : zone.parameters)
            if (p.numeric())
                for (const Track& t : std::get<Numbers>(p.standard)) numbers.push_back(t.value);
        for (const bool core : {false, true}) {
            const ZoneLines lines = zone.outline(numbers, core);
            ASSERT_FALSE(lines.empty()) << zone.id;
            Columns3 place{};
            alignas(64) Column weight;
            std::vector<LaneNumber> lanes(mostZoneNumbers);
            for (std::size_t k = 0; k < numbers.size(); ++k) lanes[k].value = static_cast<float>(numbers[k]);
            const auto data = zone.create();
            for (const auto& line : lines)
                for (const glm::vec3& p : line) {
                    for (int i = 0; i < 16; ++i) place.x[i] = p.x, place.y[i] = p.y, place.z[i] = p.z;
                    zone.weigh({data.get(), lanes.data(), place, place, 16, nullptr, {}, {}}, weight);
                    EXPECT_NEAR(weight[0], core ? 1 : 0, 2e-3f)
                        << zone.id << (core ? " core" : " surface") << p.x << ' ' << p.y << ' ' << p.z;
                }
        }
        for (const ZoneHandle& handle : zone.handles(numbers)) EXPECT_GE(zone.indexOf(handle.parameter), 0) << zone.id << handle.name;
    }
}

// ---- weaves

TEST(Weave, EveryOperationIsItsFormula) {
    using Formula2 = float (*)(float, float, float);
    const std::pair<const char*, Formula2> operations[] = {
        {"cut", [](float a, float b, float k) { return a * (1 - k * b); }},
        {"minus", [](float a, float b, float k) { return a - k * b; }},
        {"add", [](float a, float b, float k) { return a + k * b; }},
        {"times", [](float a, float b, float k) { return a * (1 + (b - 1) * k); }},
        {"larger", [](float a, float b, float k) { return a + (std::max(a, b) - a) * k; }},
        {"smaller", [](float a, float b, float k) { return a + (std::min(a, b) - a) * k; }},
        {"difference", [](float a, float b, float k) { return a + (std::abs(a - b) - a) * k; }},
        {"mix", [](float a, float b, float k) { return a + (b - a) * k; }},
        {"screen", [](float a, float b, float k) { return 1 - (1 - a) * (1 - k * b); }},
    };
    EXPECT_EQ(std::size(operations), weaveKind.parameters[static_cast<std::size_t>(weaveKind.indexOf("operation"))].choices.size());
    for (const auto& [name, formula] : operations) {
        Weighed w;
        const ObjectId ball = w.zone("ball"), slab = w.zone("slab");
        w.b.set(ball, "radius", {6})
            .set(ball, "softEdge", {6})
            .set(slab, "rotation", {0, 0, 90})
            .set(slab, "thickness", {8})
            .set(slab, "softEdge", {4});
        const auto weave = w.b.scene.at(w.gesture).list("weave");
        w.b.set(weave[1], "operation", std::string(name)).set(weave[1], "amount", {60});
        w.expect([&, of = formula](const glm::vec3& p) { return of(soft(6 - glm::length(p), 6), soft(4 - std::abs(p.x), 4), 0.6f); },
                 1e-5f);
    }
}

TEST(Weave, AGroupIsWovenFirst) {
    Weighed w;
    const ObjectId a = w.zone("ball"), b = w.zone("ball"), c = w.zone("slab");
    w.b.set(a, "radius", {7})
        .set(a, "softEdge", {7})
        .set(b, "radius", {4})
        .set(b, "softEdge", {4})
        .set(c, "thickness", {3})
        .set(c, "softEdge", {1.5});
    auto weave = w.b.scene.at(w.gesture).list("weave");
    w.b.set(weave[2], "operation", std::string("times"));
    const auto wa = [](const glm::vec3& p) { return soft(7 - glm::length(p), 7); };
    const auto wb = [](const glm::vec3& p) { return soft(4 - glm::length(p), 4); };
    const auto wc = [](const glm::vec3& p) { return soft(1.5f - std::abs(p.y), 1.5f); };
    // Without the group: (a cut b) times c. With b and c in a group: a cut (b times c).
    w.expect([&](const glm::vec3& p) { return wa(p) * (1 - wb(p)) * wc(p); });
    w.b.scene = groupEntry(w.b.scene, weave[1]).scene;
    w.b.scene = moveIntoGroup(w.b.scene, weave[2]).scene;
    w.expect([&](const glm::vec3& p) { return wa(p) * (1 - wb(p) * wc(p)); });
    const ObjectId group = w.b.scene.at(w.gesture).list("weave")[1];
    EXPECT_EQ(gestureOfEntry(w.b.scene, weave[2]), w.gesture);
    w.b.scene = ungroup(w.b.scene, group).scene;
    EXPECT_EQ(w.b.scene.at(w.gesture).list("weave").size(), 3u);
    EXPECT_THROW(moveIntoGroup(w.b.scene, weave[2]), Error);
}

TEST(Weave, SamplesTellTheWeightAfterEachEntry) {
    Weighed w;
    const ObjectId a = w.zone("ball"), b = w.zone("box");
    w.b.set(a, "radius", {6}).set(b, "size", {4, 4, 4});
    const auto result = w.b.result();
    const auto& weave = result->cards[0].samples.weave;
    ASSERT_EQ(weave.size(), 2u);
    EXPECT_EQ(weave[1].second, result->cards[0].samples.strip);
    EXPECT_NE(weave[0].second, weave[1].second);
    EXPECT_EQ(weave[0].first, w.b.scene.at(w.gesture).list("weave")[0]);
}

TEST(Weave, AMovingZoneUnderAStaggerIsSeenAtEachInstancesOwnTime) {
    Weighed w;
    const ObjectId z = w.zone("slab");
    w.b.set(z, "rotation", {0, 0, 90}).set(z, "thickness", {2}).set(z, "softEdge", {1});
    w.b.key(z, "position", {{0, -8, Ease::linear}, {32, 8, Ease::linear}});
    w.b.set(w.gesture, "when-by", std::string("number")).set(w.gesture, "when-over", {10});
    const double frame = 20;
    const auto got = w.weights(frame);
    for (std::size_t i = 0; i < got.size(); ++i) {
        const double own = frame - 10.0 * static_cast<double>(i) / static_cast<double>(got.size() - 1);
        const float place = static_cast<float>(-8 + own / 2);
        ASSERT_NEAR(got[i], soft(1 - std::abs(w.homes[i].position.x - place), 1), 2e-5f) << i;
    }
}
