// Tables of points: separators, names, and what their columns become on the instances.
#include <gtest/gtest.h>

#include <fstream>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/edit/rail_edits.h"
#include "core/exchange/csv.h"
#include "core/formation/points_csv.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "core/shape/homes.h"
#include "tests/core/making.h"

using namespace gswarm;

namespace {

std::string csvRefusal(const std::string& text) {
    try {
        readPointsCsv(text);
        return {};
    } catch (const Error& error) {
        return error.what();
    }
}

const HomeExtra* extra(const Homes& homes, HomeExtra::What what, const std::string& name = {}) {
    for (const HomeExtra& one : homes.extras)
        if (one.what == what && one.name == name) return &one;
    return nullptr;
}

}  // namespace

TEST(PointsCsv, DecimalCommasBehindSemicolonsAndTabs) {
    for (const char* text : {"x;y;z\n1,5;2,25;-3\n", "x\ty\tz\n1,5\t2,25\t-3\n", "x,y,z\n1.5,2.25,-3\n", "1.5 2.25 -3\n",
                             "\"x\",\"y\",\"z\"\n+1.5,\"2.25\" , -3\n", "\xEF\xBB\xBFx,y,z\r1.5,2.25,-3\r"}) {
        const Homes homes = readPointsCsv(text);
        ASSERT_EQ(homes.count(), 1u) << text;
        EXPECT_EQ(homes.placeOf(0), glm::vec3(1.5f, 2.25f, -3)) << text;
    }
}

TEST(PointsCsv, ColumnsGoByTheirNames) {
    const Homes turned = readPointsCsv("z,y,x\n3,2,1\n");
    EXPECT_EQ(turned.placeOf(0), glm::vec3(1, 2, 3));
    const Homes ids = readPointsCsv("id,x,y,z\n18446744073709551615,1,2,3\n7,4,5,6\n");
    EXPECT_EQ(ids.idOf(0), 18446744073709551615ull);
    EXPECT_EQ(ids.idOf(1), 7u);
    const Homes scaled = readPointsCsv("x,y,z,scale\n1,2,3,0.5\n");
    EXPECT_EQ(scaled.size, std::vector<float>{0.5f});
    const Homes bytes = readPointsCsv("x,y,z,r,g,b\n1,2,3,255,0,0\n");
    ASSERT_TRUE(extra(bytes, HomeExtra::What::red));
    EXPECT_FLOAT_EQ(extra(bytes, HomeExtra::What::red)->values[0], 1);
    EXPECT_NE(bytes.note.find("255"), std::string::npos);
    const Homes named = readPointsCsv("x,y,z,mass,reef\n1,2,3,0.25,brass\n");
    ASSERT_TRUE(extra(named, HomeExtra::What::named, "mass"));
    EXPECT_FLOAT_EQ(extra(named, HomeExtra::What::named, "mass")->values[0], 0.25f);
    EXPECT_FALSE(extra(named, HomeExtra::What::named, "reef"));
    EXPECT_NE(named.note.find("“reef”"), std::string::npos) << named.note;
}

TEST(PointsCsv, WhatCantBeReadIsRefusedWithItsLine) {
    for (const auto& [text, wanted] :
         std::vector<std::pair<std::string, std::string>>{{"1,2\n", "rows of 2 fields"},
                                                          {"1,2,3,4\n", "rows of 4 fields without names"},
                                                          {"1,2,3\n4,5\n", "2 fields where there should be 3 (line 2)"},
                                                          {"1,2,nan\n", "x, y and z"},
                                                          {"1,2,3\n1,2,nan\n", "“nan”"},
                                                          {"1,2,3\n1,2,1e39\n", "“1e39”"},
                                                          {"a,b,c\n1,2,3\n", "x, y and z"},
                                                          {"x,y,z,x\n1,2,3,4\n", "“x”"},
                                                          {"x,y,z,px\n1,2,3,4\n", "“px”"},
                                                          {"x,y,z,nx\n1,2,3,4\n", "belong together"},
                                                          {"x,y,z,id\n1,2,3,4\n1,2,3,4\n", "id 4 twice"},
                                                          {"x,y,z,id\n1,2,3,-4\n", "“-4”"},
                                                          {"\"x,y,z\n", "never closed"},
                                                          {"1.5;2,5;3,5,1\n", "“3,5,1”"}}) {
        EXPECT_NE(csvRefusal(text).find(wanted), std::string::npos) << text << " said: " << csvRefusal(text);
    }
}

TEST(PointsCsv, OurOwnTableComesBackAsItWas) {
    making::Build from = making::Build::grid(3, 2, 1);
    const ObjectId tumble = from.gesture("random");
    from.set(tumble, "rotation", true).set(tumble, "scale", true).set(tumble, "colour", true).set(tumble, "position", true);
    from.set(tumble, "scaleAmount", {2, 3, 4});
    Edit glow = addNamedValue(from.scene, from.swarm, "glow");
    from.scene = glow.scene;
    const ObjectId counting = from.gesture("number");
    from.set(counting, "value", true).set(counting, "valueOf", Value(glow.made));
    const std::vector<InstanceRow> before = from.rows();
    const auto folder = making::temporaryFolder();
    std::ofstream table(folder / "own.csv");
    writeCsv(from.plan(), from.scene, table, {true, false});
    table.close();

    making::Build to;
    to.formationKind("pointsFile").choose(to.formation, "file", "own.csv");
    to.scene = addNamedValue(to.scene, to.swarm, "glow").scene;
    std::vector<InstanceRow> after;
    readInstances(to.plan(0, folder), to.scene, [&](const InstanceRow& row) { return after.push_back(row), true; });
    ASSERT_EQ(after.size(), before.size());
    for (std::size_t i = 0; i < after.size(); ++i) {
        EXPECT_EQ(after[i].id, before[i].id);
        EXPECT_EQ(after[i].shown, before[i].shown);
        EXPECT_LT(glm::distance(after[i].position, before[i].position), 1e-5f);
        EXPECT_LT(glm::distance(after[i].scale, before[i].scale), 1e-5f);
        EXPECT_LT(glm::distance(glm::vec3(after[i].colour), glm::vec3(before[i].colour)), 1e-5f);
        EXPECT_GT(std::abs(glm::dot(after[i].rotation, before[i].rotation)), 1 - 1e-5f);
        EXPECT_FLOAT_EQ(after[i].named.at(0), before[i].named.at(0));
    }
    EXPECT_NE(before.front().named.at(0), before.back().named.at(0));
    // A rehearsal keeps what belongs to the instances it keeps.
    Store store;
    Progress progress;
    PlanOptions some;
    some.projectFolder = folder;
    some.rehearsal = 2;
    const Plan plan = prepare(to.scene, to.swarm, 0, some, store, progress);
    readInstances(plan, to.scene, [&](const InstanceRow& row) {
        EXPECT_FLOAT_EQ(row.named.at(0), before[static_cast<std::size_t>(row.number)].named.at(0));
        return true;
    });
}

TEST(PointsCsv, ColumnsThatNoNumberIsCalledByAreTold) {
    const auto folder = making::temporaryFolder();
    std::ofstream(folder / "mass.csv") << "x,y,z,mass\n1,2,3,4\n";
    making::Build b;
    b.formationKind("pointsFile").choose(b.formation, "file", "mass.csv");
    const Plan plan = b.plan(0, folder);
    ASSERT_EQ(plan.notes.size(), 1u);
    EXPECT_NE(plan.notes[0].find("“mass”"), std::string::npos);
}
