// Follow-through: closed forms, the same bits by any route, what an edit leaves valid, spilling.
#include <gtest/gtest.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "core/edit/key_edits.h"
#include "core/explain/loop_check.h"
#include "core/kinds/registry.h"
#include "core/memory/memory.h"
#include "core/resolve/parse_value.h"
#include "core/resolve/resolve.h"
#include "core/time/follow_through.h"
#include "core/time/track.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

/// Boxes in a row, lifted by 1 m by a gesture whose strength is keyed from 0 to 100 % at one frame.
struct Lifted : Build {
    ObjectId gesture;

    explicit Lifted(int count = 4) : Build(Build::grid(count, 1, 1)) {
        gesture = Build::gesture("steady");
        set(gesture, "position", Value(true));
        set(gesture, "positionAmount", {0, 1, 0});
        key(gesture, "strength", {{0, 0, Ease::hold}, {10, 100, Ease::hold}});
    }
    Lifted& spring(double frequency, double damping) {
        choose(gesture, "follow-driven", "spring");
        set(gesture, "follow-frequency", {frequency});
        set(gesture, "follow-damping", {damping});
        return *this;
    }
    float height(double frame, int row = 0) const { return rows(frame)[static_cast<std::size_t>(row)].position.y; }
};

/// The mean of a function over a stretch, by Simpson's rule.
template <class Function>
double meanOver(const Function& f, double from, double to) {
    const int parts = 200;
    double sum = f(from) + f(to);
    for (int k = 1; k < parts; ++k) sum += (k % 2 ? 4 : 2) * f(from + (to - from) * k / parts);
    return sum / (3 * parts);
}

std::vector<float> matrixAt(Evaluator& evaluator, const Build& build, double frame) {
    Progress progress;
    const auto result = evaluator.evaluate(build.scene, build.swarm, frame, {}, progress);
    return {result->columns->matrix.begin(), result->columns->matrix.end()};
}

}  // namespace

TEST(FollowThrough, StepsOfASpringMayBeCutAnywhere) {
    for (const double damping : {0.0, 0.3, 1.0, 2.5}) {
        const OscillatorStep whole = springStep(1.7, damping, 1, 25), a = springStep(1.7, damping, 0.3, 25),
                             b = springStep(1.7, damping, 0.7, 25);
        EXPECT_NEAR(b.ee * a.ee + b.ev * a.ve, whole.ee, 1e-5) << damping;
        EXPECT_NEAR(b.ee * a.ev + b.ev * a.vv, whole.ev, 1e-5) << damping;
        EXPECT_NEAR(b.ve * a.ee + b.vv * a.ve, whole.ve, 1e-5) << damping;
        EXPECT_NEAR(b.ve * a.ev + b.vv * a.vv, whole.vv, 1e-5) << damping;
    }
    EXPECT_NEAR(lagStep(10, 10).ee, 0.05, 1e-6);
    EXPECT_EQ(lagStep(0, 1).ee, 0);
}

TEST(FollowThrough, ASpringIsTheDampedOscillator) {
    const Lifted lifted = Lifted().spring(2, 0.25);
    // The target runs evenly from 0 at frame 9 to 1 at frame 10: the mean of what steps within that frame would give.
    const double w = 2 * 3.14159265358979323846 * 2, z = 0.25, wd = w * std::sqrt(1 - z * z);
    const auto afterStep = [&](double frames) {
        const double t = std::max(frames, 0.0) / 25;
        return 1 - std::exp(-z * w * t) * (std::cos(wd * t) + z * w / wd * std::sin(wd * t));
    };
    for (const double frame : {9.5, 10.0, 13.0, 17.5, 40.0})
        EXPECT_NEAR(lifted.height(frame), frame < 10 ? 0 : meanOver(afterStep, frame - 10, frame - 9), 2e-5) << frame;
    EXPECT_LT(lifted.height(10), 0.05f) << "it does not answer early";
    EXPECT_GT(lifted.height(15), 1.2f) << "it overshoots";
}

TEST(FollowThrough, FrameRatesAgreeToSecondOrder) {
    for (const bool spring : {true, false}) {
        const auto heightAt = [&](double seconds, int rate) {
            Lifted b(1);
            b.set(b.scene.project().id, "rate", Value(std::to_string(rate)));
            b.set(b.gesture, "strength", Value(Numbers{Track{0}}));
            b.set(b.gesture, "strength", parseValue(b.scene, addressOf(b.scene, b.gesture, "strength"), "=100 * sin(3 * t)"));
            if (spring)
                b.spring(1.5, 0.2);
            else
                b.choose(b.gesture, "follow-driven", "lag").set(b.gesture, "follow-lag", {0.4 * rate});
            return double(b.height(seconds * rate));
        };
        const double exact = heightAt(1.2, 400);
        const double coarse = heightAt(1.2, 25) - exact, fine = heightAt(1.2, 50) - exact;
        EXPECT_GT(std::abs(coarse), 2e-5);
        EXPECT_NEAR(coarse / fine, 4, 0.4) << (spring ? "spring" : "lag");
    }
}

TEST(FollowThrough, SwingTakesWhatIsFinishedAsRunningEvenly) {
    // Position, rotation about one axis and scale of one thing that goes evenly: behind it by twice damping over frequency.
    Build b = Build::grid(1, 1, 1);
    const ObjectId g = b.gesture("steady");
    for (const char* channel : {"position", "rotation", "scale"}) b.set(g, channel, true);
    b.set(g, "positionAmount", {2, 0, 0}).set(g, "rotationAmount", {0, 60, 0}).set(g, "scaleAmount", {3, 3, 3});
    b.key(g, "strength", {{0, 0, Ease::linear}, {200, 100, Ease::linear}});
    const Object card =
        standardObject(ObjectType::gesture, "Swing", {findKind(Family::gesture, "swing"), findKind(Family::pattern, "steady")});
    const Edit edit = addGesture(b.scene, b.swarm, card);
    b.scene = edit.scene;
    b.set(edit.made, "scale", true).set(edit.made, "frequency", {2}).set(edit.made, "damping", {0.5});
    const double frame = 150, behind = 2 * 0.5 / (2 * 3.14159265358979323846 * 2) * 25, share = (frame - behind) / 200;
    const InstanceRow row = b.rows(frame).front();
    EXPECT_NEAR(row.position.x, 2 * share, 1e-4);
    EXPECT_NEAR(row.scale.x, 1 + 2 * share, 1e-4);
    EXPECT_NEAR(2 * std::atan2(row.rotation.y, row.rotation.w) * 57.29577951, 60 * share, 1e-2);
}

TEST(FollowThrough, LagLingerAndHold) {
    Lifted lag;
    lag.choose(lag.gesture, "follow-driven", "lag").set(lag.gesture, "follow-lag", {8});
    const auto afterStep = [](double frames) { return 1 - std::pow(0.05, std::max(frames, 0.0) / 8); };
    EXPECT_NEAR(lag.height(17), meanOver(afterStep, 7, 8), 1e-4);
    Lifted falls;
    falls.key(falls.gesture, "strength", {{0, 100, Ease::hold}, {10, 0, Ease::hold}});
    falls.choose(falls.gesture, "follow-weight", "linger").set(falls.gesture, "follow-fades", {20});
    EXPECT_NEAR(falls.height(9), 1, 1e-6);
    EXPECT_NEAR(falls.height(14), 1 - 5 / 20.0, 1e-5);
    EXPECT_NEAR(falls.height(14.5), 1 - 5.5 / 20.0, 1e-5);
    EXPECT_EQ(falls.height(29), 0) << "a weight that has faded is 0, not nearly";
    falls.choose(falls.gesture, "follow-weight", "hold").set(falls.gesture, "follow-holds", {30}).set(falls.gesture, "follow-fades", {0});
    EXPECT_EQ(falls.height(38), 1);
    EXPECT_EQ(falls.height(41), 0);
}

TEST(FollowThrough, BeginsSettledAndEarlierFramesAreUnchanged) {
    Lifted lifted;
    lifted.spring(2, 0.2).key(lifted.gesture, "strength", {{-20, 0, Ease::linear}, {0, 100, Ease::hold}});
    EXPECT_NEAR(lifted.height(-10), 0.5, 1e-6);
    EXPECT_EQ(lifted.height(0), 1);
    EXPECT_EQ(lifted.height(30), 1) << "it began at rest";
}

TEST(FollowThrough, AnyRouteAndAnyThreadsGiveTheSameBits) {
    Lifted lifted(3000);
    lifted.spring(3, 0.1);
    lifted.choose(lifted.gesture, "when-by", "number").set(lifted.gesture, "when-over", {30});
    lifted.choose(lifted.gesture, "follow-weight", "linger");
    Evaluator played(1), jumped(2), back(2);
    std::vector<float> last;
    for (int frame = 0; frame <= 60; ++frame) last = matrixAt(played, lifted, frame);
    EXPECT_EQ(matrixAt(jumped, lifted, 60), last);
    matrixAt(back, lifted, 90);
    for (const double frame : {75.0, 60.25, 61.0}) matrixAt(back, lifted, frame);
    EXPECT_EQ(matrixAt(back, lifted, 60), last);
    EXPECT_EQ(matrixAt(back, lifted, 30.5), matrixAt(jumped, lifted, 30.5));
}

TEST(FollowThrough, AnEditLeavesTheFramesBeforeItValid) {
    Lifted lifted;
    lifted.spring(2, 0.2).key(lifted.gesture, "strength", {{0, 0, Ease::linear}, {40, 100, Ease::linear}, {80, 0, Ease::linear}});
    const MemoryKeys before(lifted.scene, lifted.swarm, {}, making::store());
    const Scene moved = moveKeys(lifted.scene, {{addressOf(lifted.scene, lifted.gesture, "strength"), 80}}, 10).scene;
    const MemoryKeys after(moved, lifted.swarm, {}, making::store());
    MemoryKeys a = before, b = after;
    EXPECT_EQ(a.at(30), b.at(30));
    EXPECT_NE(a.at(60), b.at(60));
    // Another frequency changes all.
    Lifted other = lifted;
    other.set(other.gesture, "follow-frequency", {3});
    MemoryKeys c(other.scene, other.swarm, {}, making::store());
    EXPECT_NE(a.at(1), c.at(1));
}

TEST(FollowThrough, AnotherColourLeavesAllFramesValid) {
    Lifted lifted;
    lifted.spring(2, 0.2);
    const std::uint64_t before = MemoryKeys(lifted.scene, lifted.swarm, {}, making::store()).at(40);
    const ObjectId entry = lifted.scene.all(ObjectType::material).front();
    lifted.set(entry, "colour", {0.1, 0.2, 0.9, 1});
    lifted.set(lifted.gesture, "colour", Value(true));
    const std::uint64_t coloured = MemoryKeys(lifted.scene, lifted.swarm, {}, making::store()).at(40);
    lifted.set(lifted.gesture, "colourAmount", {1, 0, 0, 1});
    EXPECT_EQ(MemoryKeys(lifted.scene, lifted.swarm, {}, making::store()).at(40), coloured);
    lifted.set(lifted.gesture, "colour", Value(false));
    EXPECT_EQ(MemoryKeys(lifted.scene, lifted.swarm, {}, making::store()).at(40), before);
    lifted.set(lifted.gesture, "positionAmount", {0, 2, 0});
    EXPECT_NE(MemoryKeys(lifted.scene, lifted.swarm, {}, making::store()).at(40), before);
}

TEST(FollowThrough, InstancesThatAppearBeginSettled) {
    Lifted lifted;
    lifted.spring(1, 0.1);
    lifted.key(lifted.formation, "count", {{0, 4, Ease::hold}, {14, 6, Ease::hold}});
    const auto rows = lifted.rows(14);
    ASSERT_EQ(rows.size(), 6u);
    int settled = 0;
    for (const auto& row : rows) settled += row.position.y == 1;
    EXPECT_EQ(settled, 2);
}

TEST(FollowThrough, SignedPatternsGoTowardWithoutAJump) {
    Lifted lifted;
    lifted.scene = setKind(lifted.scene, lifted.gesture, "pattern", *findKind(Family::pattern, "wave")).scene;
    lifted.choose(lifted.gesture, "positionMode", "to")
        .choose(lifted.gesture, "follow-driven", "lag")
        .set(lifted.gesture, "follow-lag", {30});
    const double step = std::abs(lifted.height(10) - lifted.height(9));
    EXPECT_LT(step, 0.15);
}

TEST(Follow, ACardOfItsOwnSwingsWhatIsFinished) {
    Lifted lifted;
    const Object card =
        standardObject(ObjectType::gesture, "Follow", {findKind(Family::gesture, "swing"), findKind(Family::pattern, "steady")});
    const Edit edit = addGesture(lifted.scene, lifted.swarm, card);
    lifted.scene = edit.scene;
    lifted.set(lifted.gesture, "rotation", Value(true)).set(lifted.gesture, "rotationAmount", {0, 0, 40});
    lifted.set(edit.made, "frequency", {2}).set(edit.made, "damping", {0.25});
    const double w = 2 * 3.14159265358979323846 * 2, z = 0.25, wd = w * std::sqrt(1 - z * z);
    const auto afterStep = [&](double frames) {
        const double t = std::max(frames, 0.0) / 25;
        return 1 - std::exp(-z * w * t) * (std::cos(wd * t) + z * w / wd * std::sin(wd * t));
    };
    const double wanted = meanOver(afterStep, 6, 7);
    const auto row = lifted.rows(16)[1];
    EXPECT_NEAR(row.position.y, wanted, 2e-5);
    EXPECT_NEAR(2 * std::atan2(row.rotation.z, row.rotation.w) * 57.29577951, 40 * wanted, 2e-3) << "turns swing by the same law";
    lifted.set(edit.made, "strength", {0});
    EXPECT_EQ(lifted.height(16), 1);
}

TEST(Follow, RemembersOnlyWhatItSwings) {
    Build b = Build::grid(40, 40, 1);
    const ObjectId g = b.gesture("noise");
    for (const char* channel : {"position", "rotation", "scale"}) b.set(g, channel, true);
    b.set(g, "positionAmount", {1, 1, 1}).set(g, "rotationAmount", {40, 40, 40}).set(g, "scaleAmount", {0.5, 0.5, 0.5});
    const Object card =
        standardObject(ObjectType::gesture, "Swing", {findKind(Family::gesture, "swing"), findKind(Family::pattern, "steady")});
    const Edit edit = addGesture(b.scene, b.swarm, card);
    b.scene = edit.scene;
    const auto only = [&](const std::string& swung) {
        Build one = b;
        for (const char* channel : {"position", "rotation", "scale"}) one.set(edit.made, channel, channel == swung);
        return one;
    };
    const auto columns = [](const Build& one) {
        const auto state = emptyState(one.plan(20));
        const auto& all = state->cards.at(1);
        return std::count_if(all.begin(), all.end(), [](const auto& column) { return !column.empty(); });
    };
    EXPECT_EQ(columns(only("position")), 9) << "place, speed and what came in";
    EXPECT_EQ(columns(only("rotation")), 11);
    EXPECT_EQ(columns(only("scale")), 9);
    EXPECT_EQ(columns(only("none")), 0);
    // Each is swung as it is together with the others.
    for (const char* channel : {"position", "rotation", "scale"}) b.set(edit.made, channel, true);
    const auto all = b.rows(20), places = only("position").rows(20), turns = only("rotation").rows(20), sizes = only("scale").rows(20);
    for (std::size_t i = 0; i < all.size(); ++i) {
        ASSERT_EQ(places[i].position, all[i].position) << i;
        ASSERT_EQ(turns[i].rotation, all[i].rotation) << i;
        ASSERT_EQ(sizes[i].scale, all[i].scale) << i;
    }
    const auto none = only("none").rows(20);
    EXPECT_NE(none[5].position, all[5].position) << "it swings at all";
}

TEST(Checkpoints, SpillToDiskAndComeBack) {
    const auto folder = std::filesystem::temp_directory_path() / ("gswarm-checkpoints-" + std::to_string(::getpid()));
    {
        Checkpoints checkpoints;
        checkpoints.limit(10'000, folder);
        const auto state = [](double frame) {
            auto made = std::make_shared<MemoryState>();
            made->frame = frame;
            made->count = 1000;
            made->cards = {{}, {MemoryState::Column(1008, static_cast<float>(frame)), {}}};
            made->loose.resize(2);
            return made;
        };
        for (int frame = 0; frame <= 40; ++frame) checkpoints.keep(static_cast<std::uint64_t>(frame + 1), state(frame));
        EXPECT_LE(checkpoints.bytes(), 10'000u);
        EXPECT_GT(checkpoints.bytesOnDisk(), 4 * 4032u);
        const auto back = checkpoints.find(1 + 8);
        ASSERT_TRUE(back);
        EXPECT_EQ(back->frame, 8);
        ASSERT_EQ(back->cards[1].size(), 2u);
        EXPECT_EQ(back->cards[1][0], MemoryState::Column(1008, 8.0f));
        EXPECT_TRUE(back->cards[1][1].empty()) << "one that the card does without";
        EXPECT_FALSE(checkpoints.find(1 + 9)) << "states between checkpoints are not kept";
        for (const auto& file : std::filesystem::directory_iterator(folder)) std::filesystem::resize_file(file, 100);
        EXPECT_FALSE(checkpoints.find(1 + 16)) << "a damaged file is as good as none";
    }
    EXPECT_TRUE(std::filesystem::is_empty(folder)) << "nothing stays behind";
    std::filesystem::remove(folder);
}

TEST(Loop, TheCheckNamesTheGestureAndTheMendsCloseIt) {
    Build b = Build::grid(20, 1, 20);
    const ObjectId still = b.gesture("random"), noisy = b.gesture("noise"), waving = b.gesture("wave"), keyed = b.gesture("steady");
    for (const ObjectId id : {still, noisy, waving, keyed}) b.set(id, "position", Value(true));
    b.choose(noisy, "pattern-motion", "speed").choose(waving, "pattern-motion", "speed").set(waving, "pattern-speed", {0.37});
    b.set(keyed, "rotation", Value(true)).key(keyed, "strength", {{0, 0}, {60, 100}});
    b.choose(keyed, "follow-driven", "spring").set(keyed, "follow-frequency", {3}).set(keyed, "follow-damping", {0.5});
    Evaluator evaluator(2);
    Progress progress;
    const LoopCheck open = checkLoop(b.scene, {}, evaluator, progress);
    ASSERT_EQ(open.swarms.size(), 1u);
    EXPECT_FALSE(open.closed);
    EXPECT_EQ(open.swarms[0].breaks, b.scene.at(b.swarm).list("rail")[1]) << open.swarms[0].told;
    EXPECT_EQ(open.mends.size(), 4u);
    b.scene = makeLoop(b.scene, {}).scene;
    const LoopCheck mended = checkLoop(b.scene, {}, evaluator, progress);
    EXPECT_TRUE(mended.closed) << mended.swarms[0].told;
    EXPECT_LT(mended.swarms[0].seam.position, 1e-4 * mended.swarms[0].size);
    EXPECT_LT(mended.swarms[0].seam.rotation, 0.01);
    EXPECT_TRUE(mended.mends.empty());
}

TEST(Loop, WrapsAndLastFormulasAreTold) {
    Build b = Build::grid(6, 1, 1);
    const Object wrap =
        standardObject(ObjectType::gesture, "Stream", {findKind(Family::gesture, "stream"), findKind(Family::pattern, "steady")});
    const Edit edit = addGesture(b.scene, b.swarm, wrap);
    b.scene = edit.scene;
    b.choose(edit.made, "motion", "speed").set(edit.made, "speed", {1.3, 0, 0});
    b.scene = setFormula(b.scene, addressOf(b.scene, b.swarm, "position", 1), "t").scene;
    Evaluator evaluator(2);
    Progress progress;
    const LoopCheck open = checkLoop(b.scene, {}, evaluator, progress);
    ASSERT_EQ(open.told.size(), 1u);
    EXPECT_NE(open.told[0].find("Swarm position y"), std::string::npos);
    EXPECT_FALSE(open.swarms[0].breaks) << "its own place breaks it, before any card";
    b.scene = setFormula(b.scene, addressOf(b.scene, b.swarm, "position", 1), "sin(2 * pi * loop)").scene;
    b.scene = makeLoop(b.scene, edit.made).scene;
    EXPECT_TRUE(checkLoop(b.scene, {}, evaluator, progress).closed);
    EXPECT_THROW(makeLoop(b.scene, {}), Error);
}

TEST(Stagger, ByDistanceCurveAndNamedValue) {
    Build b = Build::grid(5, 1, 1);  // at x −2 … 2
    const ObjectId gesture = b.gesture("steady");
    b.set(gesture, "position", Value(true)).set(gesture, "positionAmount", {0, 1, 0});
    b.key(gesture, "strength", {{0, 0, Ease::linear}, {100, 100, Ease::linear}}).set(gesture, "when-over", {40});
    const auto heights = [&] {
        std::vector<float> out;
        for (const auto& row : b.rows(50)) out.push_back(row.position.y);
        return out;
    };
    Edit mount = addMount(b.scene);
    b.scene = mount.scene;
    b.set(mount.made, "position", {-2, 0, 0}).choose(gesture, "when-by", "distance").set(gesture, "when-thing", Value(mount.made));
    for (int i = 0; i < 5; ++i) EXPECT_NEAR(heights()[static_cast<std::size_t>(i)], 0.5 - 0.1 * i, 1e-5);
    const Edit line = addShape(b.scene, *findKind(Family::shape, "line"));
    b.scene = line.scene;
    b.set(line.made, "from", {2, 0, 0}).set(line.made, "to", {-2, 0, 0});
    b.choose(gesture, "when-by", "curve").set(gesture, "when-curve", Value(line.made));
    for (int i = 0; i < 5; ++i) EXPECT_NEAR(heights()[static_cast<std::size_t>(i)], 0.5 - 0.1 * (4 - i), 1e-4);
}
