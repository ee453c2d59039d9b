// Pieces made by chance from every kind there is: whatever a person puts together, files, threads, rehearsals, the tally and
// the way to a frame all give the same numbers.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>

#include "core/arrange/fitted_edits.h"
#include "core/base/error.h"
#include "core/edit/edit_parts.h"
#include "core/edit/key_edits.h"
#include "core/edit/rail_edits.h"
#include "core/explain/loop_check.h"
#include "core/file/project_file.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/pattern/pattern_kind.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "core/scene/classes.h"
#include "core/zone/zone_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

/// Throws of a die that are the same on every machine.
class Dice {
  public:
    explicit Dice(std::uint64_t seed) : state_(seed * 0x9E3779B97F4A7C15u + 1) {}
    std::uint64_t next() {
        std::uint64_t z = state_ += 0x9E3779B97F4A7C15u;
        z = (z ^ z >> 30) * 0xBF58476D1CE4E5B9u;
        z = (z ^ z >> 27) * 0x94D049BB133111EBu;
        return z ^ z >> 31;
    }
    int below(std::size_t n) { return static_cast<int>(next() % std::max<std::size_t>(n, 1)); }
    double between(double low, double high) { return low + (high - low) * static_cast<double>(next() >> 11) / 9007199254740992.0; }
    bool chance(double share) { return between(0, 1) < share; }

  private:
    std::uint64_t state_;
};

const char* const formulas[] = {"sin(t * pi) * 0.5",       "share - 0.5",      "0.3 + loop", "chance(i) - 0.5",
                                "smoothstep(0, 1, share)", "1 / (share - 0.5)"};

/// A swarm whose rail was thrown together.
class RandomPiece : public Build {
  public:
    explicit RandomPiece(std::uint64_t seed) : Build(Build::grid(5, 2, 6)), dice_(seed) {
        scene = addNamedValue(scene, swarm, "amount").scene;
        scene = addSwarm(scene).scene;
        set(scene.project().id, "loopFrames", {24});
        const int cards = 1 + dice_.below(5);
        for (int c = 0; c < cards; ++c) addCard();
    }
    bool remembers = false;

  private:
    /// What an edit refuses stays as it was, as in the window.
    void attempt(const std::function<Edit()>& make) {
        try {
            scene = make().scene;
        } catch (const Error&) {
            return;
        }
    }

    void addCard() {
        const auto& starts = gestureStarts();
        const GestureStart& start = starts[static_cast<std::size_t>(dice_.below(starts.size()))];
        Edit edit = addGestureStart(scene, swarm, start, {}, nullptr);
        scene = edit.scene;
        const ObjectId gesture = edit.made;
        if (dice_.chance(0.5)) {
            const auto patterns = kindsOf(Family::pattern);
            scene = setKind(scene, gesture, "pattern", *patterns[static_cast<std::size_t>(dice_.below(patterns.size()))]).scene;
        }
        for (const char* channel : {"rotation", "scale", "colour", "value"})
            if (dice_.chance(0.25)) attempt([&] { return setValue(scene, addressOf(scene, gesture, channel), true); });
        throwAll(gesture);
        const int zones = dice_.below(3);
        for (int z = 0; z < zones; ++z) {
            const auto kinds = kindsOf(Family::zone);
            const Kind& kind = *kinds[static_cast<std::size_t>(dice_.below(kinds.size()))];
            attempt([&] { return addZone(scene, gesture, kind); });
            const ObjectId zone = scene.all(ObjectType::zone).back();
            throwAll(zone);
            if (dice_.chance(0.4)) attempt([&] { return toggleKey(scene, addressOf(scene, zone, "position"), 0); });
            if (dice_.chance(0.4))
                attempt([&] { return setNumber(scene, addressOf(scene, zone, "position", 0), dice_.between(-4, 4), 12); });
        }
        if (dice_.chance(0.3))
            attempt([&] { return setFormula(scene, addressOf(scene, gesture, "strength"), formulas[dice_.below(std::size(formulas))]); });
        if (dice_.chance(0.25)) {
            remembers = true;
            attempt([&] {
                return setValue(scene, addressOf(scene, gesture, "follow-driven"), std::string(dice_.chance(0.5) ? "lag" : "spring"));
            });
        }
    }

    /// Another value for about half of an object's parameters, within what sliders offer.
    void throwAll(ObjectId object) {
        const auto& slots = classOf(object.type()).slotInfos;
        for (std::size_t s = 0; s < slots.size(); ++s) {
            if (slots[s].id == "hang" || slots[s].id == "follow") continue;
            const Kind* kind = scene.at(object).part(slots[s].id).kind;
            for (std::size_t p = 0; p < kind->parameters.size(); ++p) {
                if (dice_.chance(0.5)) continue;
                const Parameter& parameter = kind->parameters[p];
                const Address address{object, static_cast<int>(s), static_cast<int>(p), -1};
                if (const auto value = thrown(parameter)) attempt([&] { return setValue(scene, address, *value); });
            }
        }
    }

    std::optional<Value> thrown(const Parameter& parameter) {
        // How many steps bodies take changes how long it takes and little else.
        if (parameter.id == "on" || parameter.id == "steps" || parameter.still) return std::nullopt;
        switch (parameter.type) {
            case ParameterType::number:
            case ParameterType::length:
            case ParameterType::angle:
            case ParameterType::whole:
            case ParameterType::colour: {
                Numbers numbers;
                for (int c = 0; c < parameter.components; ++c) {
                    const double v = parameter.type == ParameterType::colour
                                         ? dice_.between(0, 1)
                                         : dice_.between(parameter.suggested.low, parameter.suggested.high);
                    numbers.push_back(Track{parameter.type == ParameterType::whole ? std::round(v) : v});
                }
                return numbers;
            }
            case ParameterType::toggle:
                return dice_.chance(0.3);
            case ParameterType::choice:
                return parameter.choices[static_cast<std::size_t>(dice_.below(parameter.choices.size()))].id;
            default:
                return std::nullopt;
        }
    }

    Dice dice_;
};

/// One for each number of threads, for all pieces: sounds and surroundings, which take far longer than a piece, are made once.
Evaluator& evaluatorOf(int threads) {
    static std::map<int, Evaluator> all;
    return all.try_emplace(threads, threads).first->second;
}

std::shared_ptr<const Result> resultOf(const Scene& scene, ObjectId swarm, double frame, int threads) {
    Progress progress;
    return evaluatorOf(threads).evaluate(scene, swarm, frame, {}, progress);
}

/// Equal to the bit, told as one number of differing floats.
std::size_t differing(const Result& a, const Result& b) {
    if (a.count != b.count) return static_cast<std::size_t>(-1);
    std::size_t n = 0;
    for (std::size_t i = 0; i < a.columns->matrix.size(); ++i)
        n += std::memcmp(&a.columns->matrix[i], &b.columns->matrix[i], sizeof(float)) != 0;
    for (std::size_t i = 0; i < a.columns->colour.size(); ++i)
        n += a.columns->colour[i] != b.columns->colour[i] || a.columns->variant[i] != b.columns->variant[i];
    return n;
}

constexpr int pieces = 60;

}  // namespace

TEST(RandomPiece, IsTheSameOnAnyThreadsAndAfterItsFile) {
    for (int seed = 0; seed < pieces; ++seed) {
        const RandomPiece piece(static_cast<std::uint64_t>(seed));
        const auto one = resultOf(piece.scene, piece.swarm, 9.5, 1);
        EXPECT_EQ(differing(*one, *resultOf(piece.scene, piece.swarm, 9.5, 3)), 0u) << "piece " << seed;
        const std::string json = toJson(piece.scene);
        const Scene again = parseProject(json, "piece.gswarm");
        EXPECT_EQ(toJson(again), json) << "piece " << seed;
        EXPECT_EQ(differing(*one, *resultOf(again, piece.swarm, 9.5, 2)), 0u) << "piece " << seed;
    }
}

TEST(RandomPiece, ShowsNothingThatIsNoNumber) {
    for (int seed = 0; seed < pieces; ++seed) {
        const RandomPiece piece(static_cast<std::uint64_t>(seed));
        for (const double frame : {-3.0, 0.0, 7.25, 24.0}) {
            const auto result = resultOf(piece.scene, piece.swarm, frame, 2);
            ASSERT_EQ(result->count, 5 * 2 * 6);
            int shown = 0;
            for (std::size_t i = 0; i < static_cast<std::size_t>(result->count); ++i) {
                if (result->columns->variant[i] == notShown) continue;
                ++shown;
                for (std::size_t k = 0; k < 12; ++k)
                    EXPECT_TRUE(std::isfinite(result->columns->matrix[12 * i + k])) << "piece " << seed << " instance " << i;
            }
            EXPECT_EQ(shown, result->visible) << "piece " << seed;
            for (const Census& card : result->cards) {
                EXPECT_LE(card.touched, result->count);
                EXPECT_LE(card.seen, result->visible);
                EXPECT_LE(card.least, card.most);
            }
        }
    }
}

TEST(RandomPiece, TheTallyEndsWhereTheInstanceIs) {
    for (int seed = 0; seed < pieces; ++seed) {
        const RandomPiece piece(static_cast<std::uint64_t>(seed));
        const Plan plan = piece.plan(5);
        const auto rows = piece.rows(5);
        for (const std::size_t row : {std::size_t{0}, rows.size() / 2, rows.size() - 1}) {
            const auto told = tally(plan, piece.scene, rows[row].id);
            ASSERT_EQ(told.size(), plan.cards.size() + 1) << "piece " << seed;
            const InstanceRow &last = told.back().instance, &wanted = rows[row];
            EXPECT_EQ(last.id, wanted.id);
            for (int c = 0; c < 3; ++c) {
                EXPECT_EQ(std::isfinite(last.position[c]), std::isfinite(wanted.position[c])) << "piece " << seed;
                if (std::isfinite(wanted.position[c])) {
                    EXPECT_EQ(last.position[c], wanted.position[c]) << "piece " << seed;
                }
                EXPECT_EQ(last.scale[c], wanted.scale[c]) << "piece " << seed;
            }
            EXPECT_EQ(last.shown, wanted.shown);
            EXPECT_EQ(last.named, wanted.named);
        }
    }
}

TEST(RandomPiece, ARehearsalHasTheNumbersOfTheWhole) {
    int compared = 0;
    // Chance gives some pieces a gesture that needs the whole: as many as it takes for a third of them to be compared.
    for (int seed = 0; compared <= pieces / 3 && seed < 2 * pieces; ++seed) {
        const RandomPiece piece(static_cast<std::uint64_t>(seed));
        Progress progress;
        PlanOptions options;
        options.rehearsal = 4;
        const Plan part = prepare(piece.scene, piece.swarm, 11, options, making::store(), progress);
        EXPECT_LT(part.count, part.total);
        if (!part.wantWhole.empty()) continue;
        ++compared;
        std::map<std::uint64_t, InstanceRow> whole;
        for (const InstanceRow& row : piece.rows(11)) whole.emplace(row.id, row);
        readInstances(part, piece.scene, [&](const InstanceRow& row) {
            const InstanceRow& wanted = whole.at(row.id);
            EXPECT_EQ(row.number, wanted.number) << "piece " << seed;
            for (int c = 0; c < 3; ++c)
                if (std::isfinite(wanted.position[c])) {
                    EXPECT_EQ(row.position[c], wanted.position[c]) << "piece " << seed << " " << row.id;
                }
            EXPECT_EQ(row.scale, wanted.scale) << "piece " << seed << " " << row.id;
            return true;
        });
    }
    EXPECT_GT(compared, pieces / 3);
}

TEST(RandomPiece, AFrameIsTheSameHoweverItIsReached) {
    int remembering = 0;
    for (int seed = 0; seed < pieces; ++seed) {
        const RandomPiece piece(static_cast<std::uint64_t>(seed));
        if (!piece.remembers) continue;
        ++remembering;
        Evaluator jumper(2), walker(2);
        Progress progress;
        const auto jumped = jumper.evaluate(piece.scene, piece.swarm, 10, {}, progress);
        for (const double frame : {0.0, 4.0, 3.0, 12.0}) walker.evaluate(piece.scene, piece.swarm, frame, {}, progress);
        EXPECT_EQ(differing(*jumped, *walker.evaluate(piece.scene, piece.swarm, 10, {}, progress)), 0u) << "piece " << seed;
    }
    EXPECT_GT(remembering, pieces / 10);
}

TEST(RandomPiece, ALoopThatIsCalledClosedIsClosed) {
    int closed = 0;
    for (int seed = 0; seed < pieces; ++seed) {
        const RandomPiece piece(static_cast<std::uint64_t>(seed));
        Progress progress;
        const LoopCheck check = checkLoop(piece.scene, {}, evaluatorOf(2), progress);
        if (!check.closed) continue;
        ++closed;
        const auto a = resultOf(piece.scene, piece.swarm, check.first, 2), b = resultOf(piece.scene, piece.swarm, check.last, 2);
        const auto mine =
            std::find_if(check.swarms.begin(), check.swarms.end(), [&](const SwarmLoop& s) { return s.swarm == piece.swarm; });
        ASSERT_NE(mine, check.swarms.end());
        for (std::size_t i = 0; i < static_cast<std::size_t>(a->count); ++i) {
            if (a->columns->variant[i] == notShown || b->columns->variant[i] == notShown) continue;
            for (const std::size_t k : {3u, 7u, 11u})
                EXPECT_NEAR(a->columns->matrix[12 * i + k], b->columns->matrix[12 * i + k], 1.01 * closedPosition * mine->size)
                    << "piece " << seed;
        }
    }
    EXPECT_GT(closed, pieces / 10);
}
