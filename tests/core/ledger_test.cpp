// The ledger, rehearsal, what is kept from frame to frame, and every kind on every target.
#include <gtest/gtest.h>
#include <hwy/targets.h>

#include <cmath>
#include <cstring>
#include <glm/gtc/quaternion.hpp>
#include <set>

#include "core/base/error.h"
#include "core/base/turns.h"
#include "core/edit/rail_edits.h"
#include "core/exchange/csv.h"
#include "core/explain/why.h"
#include "core/flow/home_plan.h"
#include "core/formula/parse.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/pattern/pattern_kind.h"
#include "core/prepare/prepare.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/read/ledger.h"
#include "core/zone/zone_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

std::shared_ptr<const Ledger> read(const Build& b, const LedgerQuery& query, double frame = 0) {
    static Evaluator evaluator(2);
    Progress progress;
    const Plan plan = evaluator.plan(b.scene, b.swarm, frame, {}, progress);
    return readLedger(evaluator, plan, b.scene, query, progress);
}

std::vector<std::string> allColumns(const Build& b) {
    std::vector<std::string> ids;
    for (const LedgerColumn& column : ledgerColumns(b.scene, b.swarm)) ids.push_back(column.id);
    return ids;
}

const std::vector<float>& column(const Ledger& ledger, const std::string& id) {
    for (std::size_t c = 0; c < ledger.columns.size(); ++c)
        if (ledger.columns[c].id == id) return ledger.values[c];
    throw std::logic_error("no column " + id);
}

/// A swarm with everything in it that a ledger tells.
struct Reef {
    Build b = Build::grid(31, 2, 47);
    ObjectId lift, turn, glow;
    Reef() {
        b.scene = addNamedValue(b.scene, b.swarm, "glow").scene;
        glow = b.scene.at(b.swarm).list("namedValues").front();
        lift = b.gesture("noise");
        turn = b.gesture("random");
        b.set(lift, "position", true).set(lift, "positionAmount", {0, 3, 0}).set(lift, "value", true).set(lift, "valueOf", Value(glow));
        b.set(turn, "rotation", true).set(turn, "rotationAmount", {80, 80, 170}).set(turn, "colour", true);
        b.zone(turn, "ball");
        b.set(b.swarm, "position", {1, 2, 3}).set(b.swarm, "scale", {2}).set(b.swarm, "rotation", {0, 30, 0});
    }
};

}  // namespace

TEST(Ledger, HasEveryNumberOfEveryInstanceInWorldSpace) {
    Reef p;
    const auto ledger = read(p.b, {allColumns(p.b), "", "", false});
    const auto rows = p.b.rows();
    ASSERT_EQ(ledger->rows.size(), rows.size());
    for (std::size_t i = 0; i < rows.size(); ++i) {
        EXPECT_EQ(ledger->ids[i], rows[i].id);
        EXPECT_EQ(column(*ledger, "number")[i], static_cast<float>(rows[i].number));
        EXPECT_EQ(column(*ledger, "position_x")[i], rows[i].position.x);
        EXPECT_EQ(column(*ledger, "position_z")[i], rows[i].position.z);
        EXPECT_NEAR(column(*ledger, "scale_y")[i], rows[i].scale.y, 1e-6f);
        EXPECT_NEAR(column(*ledger, "green")[i], rows[i].colour.y, 1e-6f);
        EXPECT_EQ(column(*ledger, "shown")[i] > 0, rows[i].shown);
        EXPECT_EQ(column(*ledger, toText(p.glow))[i], rows[i].named[0]);
        const glm::vec3 turns(column(*ledger, "rotation_x")[i], column(*ledger, "rotation_y")[i], column(*ledger, "rotation_z")[i]);
        EXPECT_NEAR(std::abs(glm::dot(rotationFromTurns(turns * 0.017453292f), rows[i].rotation)), 1, 1e-5f) << i;
    }
    const auto& weights = column(*ledger, toText(p.b.scene.at(p.b.swarm).list("rail")[1]));
    Evaluator evaluator(1);
    Progress progress;
    PlanOptions options;
    options.wanted.weightsOf = p.b.scene.at(p.b.swarm).list("rail")[1];
    EXPECT_EQ(weights, evaluator.evaluate(p.b.scene, p.b.swarm, 0, options, progress)->weights);
    EXPECT_TRUE(evaluator.evaluate(p.b.scene, p.b.swarm, 0, {}, progress)->weights.empty()) << "only whoever asks gets them";
    EXPECT_EQ(ledger->text(3, 0), "3");
    EXPECT_EQ(ledger->columns[2].label, "Shape");
    EXPECT_EQ(ledger->text(3, 2), "Box");
}

TEST(Ledger, FiltersByACondition) {
    Reef p;
    const auto all = read(p.b, {{"position_y"}, "", "", false});
    const auto high = read(p.b, {{"position_y", "number"}, "yNow > 0.5 && i < 2000", "", false});
    std::size_t wanted = 0;
    Build still = p.b;
    const auto rows = p.b.rows();
    for (const auto& row : rows) wanted += (row.position.y - 2) / 2 > 0.5f && row.number < 2000;  // the swarm's own metres
    EXPECT_EQ(high->rows.size(), wanted);
    EXPECT_LT(wanted, all->rows.size());
    EXPECT_GT(wanted, 0u);
    EXPECT_EQ(read(p.b, {{"position_x"}, "glow > 0", "", false})->rows.size() +
                  read(p.b, {{"position_x"}, "!(glow > 0)", "", false})->rows.size(),
              all->rows.size());
    try {
        read(p.b, {{"position_x"}, "xNow > wobble", "", false});
        FAIL();
    } catch (const FormulaError& error) {
        EXPECT_EQ(error.place, 7u);
    }
    EXPECT_THROW(read(p.b, {{"position_x"}, "xNow + 1", "", false}), FormulaError);
}

TEST(Ledger, SortsByAnyColumnAndKeepsTheOrderOfEquals) {
    Reef p;
    for (const std::string& by : allColumns(p.b))
        for (const bool down : {false, true}) {
            const auto ledger = read(p.b, {{by}, "", by, down});
            std::set<std::uint32_t> seen(ledger->rows.begin(), ledger->rows.end());
            ASSERT_EQ(seen.size(), 31u * 2 * 47) << by;
            for (std::size_t r = 1; r < ledger->rows.size(); ++r) {
                const auto a = ledger->rows[r - 1], b = ledger->rows[r];
                if (by == "id") {
                    ASSERT_TRUE(down ? ledger->ids[a] > ledger->ids[b] : ledger->ids[a] < ledger->ids[b]);
                    continue;
                }
                const float x = ledger->values[0][a], y = ledger->values[0][b];
                ASSERT_TRUE(x == y ? a < b : down ? x > y : x < y) << by << r;
            }
        }
}

TEST(Ledger, CopiesRowsAsTextWithTabs) {
    Reef p;
    const auto ledger = read(p.b, {{"number", "id", "shape", "position_y"}, "", "number", true});
    const std::string text = tabbedText(*ledger, {0, 1}, 1);
    EXPECT_EQ(text.substr(0, text.find('\n')), "Number\tId\tShape\tPosition Y");
    const std::string row = text.substr(text.find('\n') + 1);
    EXPECT_EQ(row.substr(0, 5), "2913\t");
    EXPECT_EQ(std::count(text.begin(), text.end(), '\n'), 2);
}

TEST(Ledger, TurnsOfAGimbalAreStillTheSameTurn) {
    for (const float y : {90.0f, -90.0f, 89.99f, -89.97f, 89.9f, 45.0f, 0.0f})
        for (const float x : {-170.0f, 0.0f, 20.0f})
            for (const float z : {-100.0f, 0.0f, 50.0f}) {
                const glm::quat q = rotationFromTurns(glm::vec3(x, y, z) * 0.017453292f);
                const glm::quat back = rotationFromTurns(turnsFromRotation(q));
                EXPECT_GT(std::abs(glm::dot(back, q)), 1 - 2e-7f) << x << ' ' << y << ' ' << z;
                EXPECT_LT(glm::distance(degreesOf(q), turnsFromRotation(q) * 57.29577951f), 1e-4f);
            }
}

TEST(Ledger, IdsAndRowsLeadToEachOther) {
    Reef p;
    const Plan plan = p.b.plan();
    const std::vector<std::uint32_t> rows{0, 5, 1023, 1024, 2913};
    auto ids = idsOfRows(plan.home, rows);
    std::sort(ids.begin(), ids.end());
    EXPECT_EQ(rowsOfIds(plan.home, ids), rows);
    EXPECT_TRUE(rowsOfIds(plan.home, {123456789012345u}).empty());
    // In any order, twice or once, and strangers among them; the middle of a grid has the id 0.
    std::vector<std::uint64_t> mixed(ids.rbegin(), ids.rend());
    mixed.insert(mixed.end(), {ids.front(), 123456789012345u, ~std::uint64_t{0}});
    EXPECT_EQ(rowsOfIds(plan.home, mixed), rows);
    const Build grid = Build::grid(5, 1, 5);
    EXPECT_EQ(rowsOfIds(grid.plan().home, {0}), std::vector<std::uint32_t>{12});
    EXPECT_TRUE(rowsOfIds(grid.plan().home, {}).empty());
}

TEST(Csv, TellsNamedValues) {
    Reef p;
    std::ostringstream out;
    writeCsv(p.b.plan(), p.b.scene, out);
    const std::string text = out.str();
    EXPECT_NE(text.substr(0, text.find('\n')).find(",alpha,glow"), std::string::npos);
}

// ---- rehearsal

TEST(Rehearsal, KeepsIdsNumbersAndValuesOfTheWhole) {
    Reef p;
    std::map<std::uint64_t, InstanceRow> whole;
    for (const auto& row : p.b.rows()) whole[row.id] = row;
    for (const int share : {2, 4, 16, 64}) {
        PlanOptions options;
        options.rehearsal = share;
        Store store;
        Progress progress;
        const Plan plan = prepare(p.b.scene, p.b.swarm, 0, options, store, progress);
        EXPECT_EQ(plan.total, 2914);
        EXPECT_NEAR(plan.count, 2914.0 / share, 2914.0 / share * 0.25 + 2);
        EXPECT_TRUE(plan.wantWhole.empty());
        double mean = 0;
        readInstances(plan, p.b.scene, [&](const InstanceRow& row) {
            const InstanceRow& same = whole.at(row.id);
            EXPECT_EQ(row.number, same.number);
            EXPECT_EQ(row.position, same.position);
            EXPECT_EQ(row.rotation, same.rotation);
            EXPECT_EQ(row.colour, same.colour);
            mean += row.number;
            return true;
        });
        EXPECT_NEAR(mean / plan.count, 2913 / 2.0, 2913 * 0.12) << share;  // evenly chosen
    }
}

TEST(Rehearsal, NamesTheCardsThatNeedTheWhole) {
    Build b = Build::grid(20, 1, 20);
    const ObjectId plain = b.gesture(), normalised = b.gesture("noise"), nearest = b.gesture();
    b.set(plain, "position", true)
        .set(normalised, "position", true)
        .set(normalised, "shaped-normalise", true)
        .set(nearest, "position", true);
    b.zone(nearest, "nearest");
    b.scene = addGesture(b.scene, b.swarm, standardObject(ObjectType::gesture, "Room", {&makeRoomGesture})).scene;
    PlanOptions options;
    options.rehearsal = 4;
    Store store;
    Progress progress;
    const auto rail = b.scene.at(b.swarm).list("rail");
    EXPECT_EQ(prepare(b.scene, b.swarm, 0, options, store, progress).wantWhole, (std::vector<ObjectId>{rail[1], rail[2], rail[3]}));
}

// ---- what is kept

TEST(Evaluate, NothingIsDoneAgainWhereNothingChanged) {
    Reef p;
    Evaluator evaluator(2);
    Progress progress;
    const auto first = evaluator.evaluate(p.b.scene, p.b.swarm, 0, {}, progress);
    EXPECT_EQ(evaluator.evaluate(p.b.scene, p.b.swarm, 0, {}, progress)->columns, first->columns);
    Build named = p.b;
    named.scene = rename(named.scene, p.lift, "Another name").scene;
    EXPECT_EQ(evaluator.evaluate(named.scene, p.b.swarm, 0, {}, progress)->columns, first->columns);
    // Still patterns give the same picture at every frame.
    Build still = p.b;
    still.choose(p.lift, "pattern-motion", "still");
    const auto a = evaluator.evaluate(still.scene, p.b.swarm, 0, {}, progress);
    EXPECT_EQ(evaluator.evaluate(still.scene, p.b.swarm, 33, {}, progress)->columns, a->columns);
    const auto moved = evaluator.evaluate(p.b.scene, p.b.swarm, 33, {}, progress);
    EXPECT_NE(moved->columns->matrix, first->columns->matrix);
    // Every kind of change is seen.
    const std::function<void(Build&)> changes[] = {
        [&](Build& b) { b.set(p.lift, "strength", {90}); },
        [&](Build& b) { b.set(p.turn, "where-invert", true); },
        [&](Build& b) { b.set(p.turn, "pattern-seed", {77}); },
        [&](Build& b) {
            b.set(b.swarm, "position", {1, 2, 4});
        },
        [&](Build& b) { b.set(p.glow, "standard", {4}); },
        [&](Build& b) {
            b.set(b.formation, "spacing", {1, 1, 1.5});
        },
        [&](Build& b) { b.set(b.stock, "size", {1.5}); },
        [&](Build& b) {
            b.set(b.shape, "size", {1, 2, 1});
        },
        [&](Build& b) {
            b.set(p.turn, "when-by", std::string("random"))
                .set(p.turn, "when-over", {9})
                .key(p.turn, "strength", {{0, 0, Ease::linear}, {5, 100, Ease::linear}});
        },
        [&](Build& b) { b.set(b.scene.all(ObjectType::zone).front(), "radius", {3.5}); },
    };
    for (std::size_t k = 0; k < std::size(changes); ++k) {
        Build changed = p.b;
        changes[k](changed);
        const auto before = evaluator.evaluate(p.b.scene, p.b.swarm, 0, {}, progress);
        EXPECT_NE(evaluator.evaluate(changed.scene, p.b.swarm, 0, {}, progress)->hash, before->hash) << k;
    }
}

TEST(Evaluate, EveryKindGivesTheSameBitsOnEveryTargetAndForAnyThreads) {
    const auto bits = [](const Result& r) {
        std::vector<float> out(r.columns->matrix.begin(), r.columns->matrix.end());
        for (const std::uint32_t c : r.columns->colour) out.push_back(static_cast<float>(c));
        for (const std::uint16_t v : r.columns->variant) out.push_back(v);
        for (const Census& c : r.cards) {
            out.insert(out.end(), {float(c.touched), float(c.seen), float(c.notFinite), float(c.clippedWhere), c.least, c.most});
            out.insert(out.end(), c.samples.strip.begin(), c.samples.strip.end());
        }
        return out;
    };
    const auto check = [&](const std::string& what, const Scene& scene, ObjectId swarm) {
        Progress progress;
        Evaluator one(1);
        const auto wanted = bits(*one.evaluate(scene, swarm, 13, {}, progress));
        for (std::int64_t left = hwy::SupportedTargets(); left != 0; left &= left - 1) {
            hwy::SetSupportedTargetsForTest(left & -left);
            for (const int threads : {1, 3}) {
                Evaluator evaluator(threads);
                const auto got = bits(*evaluator.evaluate(scene, swarm, 13, {}, progress));
                EXPECT_TRUE(got.size() == wanted.size() && std::memcmp(got.data(), wanted.data(), got.size() * 4) == 0)
                    << what << " on " << hwy::TargetName(left & -left) << " with " << threads;
            }
        }
        hwy::SetSupportedTargetsForTest(0);
    };
    const auto base = [] {
        Build b = Build::grid(53, 1, 41);
        b.scene = addNamedValue(b.scene, b.swarm, "glow").scene;
        Edit other = addSwarm(b.scene);
        b.scene = other.scene;
        b.set(b.scene.at(other.made).list("formations").front(), "count", {3, 1, 3});
        return b;
    };
    for (const Kind* kind : kindsOf(Family::pattern)) {
        Build b = base();
        const ObjectId g = b.gesture(), late = b.gesture();
        b.scene = setKind(b.scene, g, "pattern", *kind).scene;
        b.set(g, "position", true).set(g, "rotation", true).set(g, "scale", true).set(late, "colour", true).choose(late, "source", "ramp");
        b.set(g, "when-by", std::string("number")).set(g, "when-over", {6});
        check(kind->id, b.scene, b.swarm);
    }
    for (const Kind* kind : kindsOf(Family::zone)) {
        Build b = base();
        const ObjectId g = b.gesture("noise");
        b.set(g, "position", true).set(g, "when-by", std::string("random")).set(g, "when-over", {6});
        const ObjectId z = b.zone(g, kind->id);
        b.set(z, "rotation", {10, 20, 30}).key(z, "position", {{0, -3, Ease::linear}, {20, 4, Ease::eased}});
        check(kind->id, b.scene, b.swarm);
    }
    for (const Kind* kind : kindsOf(Family::gesture)) {
        Build b = base();
        const ObjectId mess = b.gesture("random");
        b.set(mess, "position", true).set(mess, "scale", true).set(mess, "rotation", true);
        const Edit edit =
            addGesture(b.scene, b.swarm, standardObject(ObjectType::gesture, "Kind", {kind, findKind(Family::pattern, "noise")}));
        b.scene = edit.scene;
        for (const Parameter& p : kind->parameters)
            if (p.type == ParameterType::toggle && p.when.empty() && p.id != "shape" && p.id != "value") b.set(edit.made, p.id, true);
        // A whole loop of what carries on takes long.
        if (static_cast<const GestureKind*>(kind)->carryOn) b.set(b.formation, "count", {6, 1, 5});
        check(kind->id, b.scene, b.swarm);
    }
}

// ---- why

TEST(Why, TellsWhatACardWaitsForAndMendsIt) {
    Build b = Build::grid(5, 1, 5);
    const ObjectId g = b.gesture(), z = b.zone(g, "ball");
    b.set(g, "position", true);
    b.scene = remove(b.scene, z).scene;
    const ObjectId entry = b.scene.at(b.swarm).list("rail").front();
    const auto why = whyNothing(b.scene, *b.result(), entry, {});
    ASSERT_TRUE(why);
    EXPECT_NE(why->reason.find("It waits"), std::string::npos);
    ASSERT_TRUE(why->mend);
    b.scene = why->mend->scene;
    EXPECT_FALSE(whyNothing(b.scene, *b.result(), entry, {}));
}

TEST(Why, FormulasWithoutNumbersHiddenSwarmsAndSolosAreNamed) {
    const auto why = [](const Build& b, ObjectId solo = {}) {
        Evaluator evaluator(1);
        Progress progress;
        const ObjectId entry = b.scene.at(b.swarm).list("rail").front();
        const auto reason = whyNothing(b.scene, *evaluator.evaluate(b.scene, b.swarm, 0, {solo, {}}, progress), entry, solo);
        return reason ? reason->reason : std::string();
    };
    Build b = Build::grid(5, 1, 5);
    const ObjectId g = b.gesture("formula"), other = b.gesture();
    b.set(g, "position", true).set(g, "pattern-value", Value(Formula{"1 / 0", {}}));
    EXPECT_NE(why(b).find("no valid number"), std::string::npos) << why(b);
    b.set(g, "pattern-value", Value(Formula{"0", {}}));
    EXPECT_NE(why(b).find("0 on every instance"), std::string::npos) << why(b);
    b.set(g, "pattern-value", Value(Formula{"1", {}}));
    EXPECT_EQ(why(b), "");
    EXPECT_NE(why(b, b.scene.at(b.swarm).list("rail")[1]).find("soloed"), std::string::npos);
    b.set(other, "scale", true).set(other, "scaleAmount", {0, 0, 0});
    EXPECT_NE(why(b).find("hidden"), std::string::npos) << why(b);
    Build late = Build::grid(5, 1, 5);
    const ObjectId grow = late.gesture();
    late.set(grow, "position", true).set(grow, "when-by", std::string("number")).set(grow, "when-over", {40});
    late.key(grow, "strength", {{10, 0, Ease::linear}, {20, 100, Ease::linear}});
    EXPECT_NE(why(late).find("strength"), std::string::npos) << why(late);
}
