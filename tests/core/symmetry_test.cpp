// Copies of a swarm's whole result: the groups that they form, and whatever reads results.
#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>
#include <nlohmann/json.hpp>
#include <random>
#include <set>
#include <sstream>

#include "core/arrange/symmetry_edits.h"
#include "core/base/error.h"
#include "core/exchange/csv.h"
#include "core/exchange/gltf.h"
#include "core/exchange/realised.h"
#include "core/explain/loop_check.h"
#include "core/file/project_file.h"
#include "core/flow/extent.h"
#include "core/kinds/registry.h"
#include "core/picture/draw_list.h"
#include "core/picture/trace.h"
#include "core/read/ledger.h"
#include "core/symmetry/copies.h"
#include "core/symmetry/symmetry_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::mat4;
using glm::vec3;
using making::Build;

namespace {

using Settings = std::vector<std::pair<std::string, Value>>;

ObjectId addTo(Build& b, const SymmetryKind& kind, const Settings& settings = {}) {
    const Edit edit = addSymmetry(b.scene, b.swarm, kind, nullptr);
    b.scene = edit.scene;
    for (const auto& [parameter, value] : settings) b.set(edit.made, parameter, value);
    return edit.made;
}

std::vector<mat4> copiesOf(const SymmetryKind& kind, const Settings& settings) {
    Build b = Build::grid(1, 1, 1);
    addTo(b, kind, settings);
    return b.plan().copies;
}

float apart(const mat4& a, const mat4& b) {
    float most = 0;
    for (int c = 0; c < 4; ++c)
        for (int r = 0; r < 4; ++r) most = std::max(most, std::abs(a[c][r] - b[c][r]));
    return most;
}

bool holds(const std::vector<mat4>& all, const mat4& one) {
    return std::any_of(all.begin(), all.end(), [&](const mat4& other) { return apart(one, other) < 1e-4f; });
}

/// Any two after each other are one of them, and each has one that undoes it.
void expectGroup(const std::vector<mat4>& all) {
    for (const mat4& a : all) {
        for (const mat4& b : all) EXPECT_TRUE(holds(all, a * b));
        EXPECT_TRUE(holds(all, glm::inverse(a)));
    }
    for (std::size_t i = 0; i < all.size(); ++i)
        for (std::size_t j = 0; j < i; ++j) EXPECT_GT(apart(all[i], all[j]), 1e-3f) << i << " and " << j << " are one";
}

int mirroring(const std::vector<mat4>& all) {
    return static_cast<int>(std::count_if(all.begin(), all.end(), [](const mat4& m) { return glm::determinant(m) < 0; }));
}

/// Three tilted bricks of three colours, away from every plane and axis.
Build bricks() {
    Build b = Build::grid(3, 1, 1);
    b.set(b.shape, "size", fixedNumbers({0.3, 0.6, 0.2}));
    const ObjectId move = b.gesture();
    b.set(move, "position", Value(true)).set(move, "positionAmount", {3, 0.7, 0.4});
    b.set(move, "rotation", Value(true)).set(move, "rotationAmount", {20, 35, 50});
    return b;
}

}  // namespace

TEST(Symmetry, MirrorPlanesFormTheirGroup) {
    const auto one = copiesOf(mirroredSymmetry, {});
    ASSERT_EQ(one.size(), 2u);
    EXPECT_EQ(one[0], mat4(1));
    EXPECT_EQ(one[1], glm::scale(mat4(1), vec3(-1, 1, 1)));
    const Settings turned{
        {"x", true}, {"y", true}, {"z", true}, {"centre", fixedNumbers({1, -2, 0.5})}, {"rotation", fixedNumbers({10, 20, 30})}};
    const auto three = copiesOf(mirroredSymmetry, turned);
    EXPECT_EQ(three.size(), 8u);
    EXPECT_EQ(mirroring(three), 4);
    expectGroup(three);
    for (const mat4& copy : three) EXPECT_LT(glm::distance(vec3(copy * glm::vec4(1, -2, 0.5, 1)), vec3(1, -2, 0.5)), 1e-5f);
}

TEST(Symmetry, TurnsCloseAndKaleidoscopesMirrorEachOne) {
    for (const int times : {1, 2, 3, 5, 6, 60}) {
        const Settings round{{"times", fixedNumbers({double(times)})}, {"centre", fixedNumbers({2, 0, -1})}};
        const auto all = copiesOf(turnedSymmetry, round);
        ASSERT_EQ(all.size(), static_cast<std::size_t>(times));
        expectGroup(all);
        EXPECT_EQ(mirroring(all), 0);
        Settings both = round;
        both.emplace_back("mirrored", Value(true));
        both.emplace_back("mirrorAt", fixedNumbers({25}));
        both.emplace_back("axis", Value(std::string("x")));
        const auto kaleidoscope = copiesOf(turnedSymmetry, both);
        ASSERT_EQ(kaleidoscope.size(), static_cast<std::size_t>(2 * times));
        EXPECT_EQ(mirroring(kaleidoscope), times);
        expectGroup(kaleidoscope);
        // The axis stays.
        for (const mat4& copy : kaleidoscope) EXPECT_LT(glm::distance(vec3(copy * glm::vec4(7, 0, -1, 1)), vec3(7, 0, -1)), 1e-4f);
    }
}

TEST(Symmetry, ARiseIsAScrewAndGrowthLikenessOfEachToTheNext) {
    const Settings rising{{"times", fixedNumbers({20})},
                          {"over", std::string("step")},
                          {"step", fixedNumbers({37})},
                          {"rise", fixedNumbers({0.3})},
                          {"centre", fixedNumbers({1, 2, 3})}};
    const auto screw = copiesOf(turnedSymmetry, rising);
    ASSERT_EQ(screw.size(), 20u);
    for (std::size_t k = 0; k < screw.size(); ++k) {
        // A place on the axis goes up it alone, by as much each time.
        EXPECT_LT(glm::distance(vec3(screw[k] * glm::vec4(1, 2, 3, 1)), vec3(1, 2 + 0.3 * double(k), 3)), 1e-4f);
        const vec3 across(screw[k] * glm::vec4(1, 0, 0, 0));
        EXPECT_NEAR(across.x, std::cos(37 * making::degree * float(k)), 1e-4f);
    }
    Settings growing = rising;
    growing.emplace_back("growth", fixedNumbers({90}));
    const auto shell = copiesOf(turnedSymmetry, growing);
    for (std::size_t k = 0; k + 1 < shell.size(); ++k) EXPECT_LT(apart(shell[k] * shell[1], shell[k + 1]), 1e-4f) << k;
    EXPECT_NEAR(scaleOf(shell[10]), std::pow(0.9, 10), 1e-5);
}

TEST(Symmetry, WhatFallsTogetherIsThereOnce) {
    Build b = Build::grid(1, 1, 1);
    addTo(b, mirroredSymmetry, {{"z", true}});
    addTo(b, turnedSymmetry, {{"times", fixedNumbers({4})}});
    // Two planes through an axis are a half turn about it: of 16 copies 8 are left.
    const auto all = b.plan().copies;
    EXPECT_EQ(all.size(), 8u);
    EXPECT_EQ(all.front(), mat4(1));
    expectGroup(all);
}

TEST(Symmetry, TooManyCopiesAreToldAndTheRestStays) {
    Build b = Build::grid(1, 1, 1);
    addTo(b, turnedSymmetry, {{"times", fixedNumbers({1000})}});
    const ObjectId second = addTo(b, turnedSymmetry, {{"times", fixedNumbers({5})}, {"axis", std::string("x")}});
    const Plan plan = b.plan();
    EXPECT_EQ(plan.copies.size(), 1000u);
    ASSERT_EQ(plan.notes.size(), 1u);
    EXPECT_NE(plan.notes.front().find("5 000 times, more than the limit of 4 096"), std::string::npos) << plan.notes.front();
    b.set(second, "on", Value(false));
    EXPECT_TRUE(b.plan().notes.empty());
}

TEST(Symmetry, ACopyInTheWorldIsTheSameMatrix) {
    std::mt19937 random(7);
    std::uniform_real_distribution<float> number(-1, 1);
    for (int n = 0; n < 200; ++n) {
        const auto quat = [&] { return glm::normalize(glm::quat(number(random), number(random), number(random), number(random))); };
        const WorldPose pose{{number(random), number(random), number(random)}, quat(), 1.5f};
        const mat4 copy = matrixOf(WorldPose{{number(random), 2, 0}, quat(), 0.7f}) * glm::scale(mat4(1), vec3(n % 2 ? -1 : 1, 1, 1));
        const vec3 place(number(random), number(random), number(random)), scale(0.5f + number(random) / 4, 1, 2);
        const glm::quat turn = quat();
        const auto matrix = [](const vec3& p, const glm::quat& q, const vec3& s) {
            return glm::translate(mat4(1), p) * glm::mat4_cast(q) * glm::scale(mat4(1), s);
        };
        const std::vector<mat4> copies{mat4(1), copy};
        const CopyInWorld there = furtherCopies(pose, copies).front();
        EXPECT_LT(
            apart(matrix(there.place(place), there.rotation(turn), there.scale(scale)), matrixOf(pose) * copy * matrix(place, turn, scale)),
            1e-5f);
    }
}

TEST(Symmetry, OtherSwarmsStandOnTheCopiesToo) {
    Build b = bricks();
    addTo(b, mirroredSymmetry);
    Build on = b;
    const Edit other = addSwarm(b.scene);
    on.scene = other.scene;
    on.swarm = other.made;
    on.formation = on.scene.at(on.swarm).list("formations").front();
    on.formationKind("onSwarm").set(on.formation, "swarm", Value(b.swarm));
    const auto rows = on.rows();
    ASSERT_EQ(rows.size(), 6u);
    ASSERT_EQ(making::byId(rows).size(), 6u);
    for (int k = 0; k < 3; ++k) making::expectNear(rows[k + 3].position, rows[k].position * vec3(-1, 1, 1));
}

TEST(Symmetry, TheLedgerCountsCopiesAndListsThemWhenAsked) {
    Build b = bricks();
    b.set(b.swarm, "position", {0, 5, 0}).set(b.swarm, "rotation", {0, 90, 0}).set(b.swarm, "scale", {2});
    addTo(b, turnedSymmetry, {{"times", fixedNumbers({4})}, {"mirrored", true}});
    Evaluator evaluator;
    Progress progress;
    LedgerQuery query;
    for (const LedgerColumn& column : ledgerColumns(b.scene, b.swarm)) query.columns.push_back(column.id);
    const Plan plan = b.plan();
    const auto once = readLedger(evaluator, plan, b.scene, query, progress);
    EXPECT_EQ(once->count, 3);
    query.copies = true;
    const auto all = readLedger(evaluator, plan, b.scene, query, progress);
    EXPECT_EQ(all->count, 24);
    EXPECT_EQ(all->copies, 8);
    const auto column = [&](const std::string& id) -> const std::vector<float>& {
        for (std::size_t c = 0; c < all->columns.size(); ++c)
            if (all->columns[c].id == id) return all->values[c];
        throw Error("no column " + id);
    };
    std::vector<InstanceRow> rows;
    readInstances(
        plan, b.scene, [&](const InstanceRow& row) { return rows.push_back(row), true; }, true);
    ASSERT_EQ(rows.size(), 24u);
    for (std::size_t i = 0; i < rows.size(); ++i) {
        EXPECT_EQ(rows[i].copy, static_cast<int>(i % 8));
        EXPECT_EQ(column("copy")[i], static_cast<float>(i % 8));
        EXPECT_EQ(all->ids[i], rows[i].id);
        EXPECT_NEAR(column("position_x")[i], rows[i].position.x, 1e-5f);
        EXPECT_NEAR(column("position_z")[i], rows[i].position.z, 1e-5f);
        EXPECT_NEAR(column("scale_x")[i], rows[i].scale.x, 1e-5f);
        EXPECT_EQ(rows[i].scale.x < 0, i % 2 == 1);
        // As far from the axis as its original.
        const auto fromAxis = [](const vec3& p) { return std::hypot(p.x, p.z); };
        EXPECT_NEAR(fromAxis(rows[i].position), fromAxis(rows[i / 8 * 8].position), 1e-4f);
    }
    query.filter = "i == 1";
    EXPECT_EQ(readLedger(evaluator, plan, b.scene, query, progress)->rows.size(), 8u);
    std::ostringstream csv, plain;
    writeCsv(plan, b.scene, csv, {false, true});
    writeCsv(plan, b.scene, plain);
    const auto lines = [](const std::string& text) { return std::count(text.begin(), text.end(), '\n'); };
    EXPECT_EQ(lines(csv.str()), 25);
    EXPECT_EQ(csv.str().substr(0, csv.str().find('\n')).substr(csv.str().find('\n') - 5), ",copy");
    EXPECT_EQ(lines(plain.str()), 4);
    EXPECT_EQ(plain.str().find(",copy"), std::string::npos);
}

TEST(Symmetry, EveryCopyIsDrawnWithItsFacesOutward) {
    Build b = bricks();
    addTo(b, mirroredSymmetry, {{"y", true}});
    const auto result = b.result();
    const DrawList list = drawListOf({&result, 1});
    ASSERT_EQ(list.surfaces.size(), 4u);
    int things = 0;
    Progress progress;
    realise(list, progress, [&](const RealisedThing& thing) {
        ++things;
        vec3 middle(0);
        for (const vec3& p : thing.positions) middle += p / float(thing.positions.size());
        for (std::size_t t = 0; t + 2 < thing.triangles.size(); t += 3) {
            const vec3 &a = thing.positions[thing.triangles[t]], &b = thing.positions[thing.triangles[t + 1]],
                       &c = thing.positions[thing.triangles[t + 2]];
            const vec3 across = glm::normalize(glm::cross(b - a, c - a));
            EXPECT_GT(glm::dot(across, a - middle), 0);
            EXPECT_GT(glm::dot(across, thing.normals[thing.triangles[t]]), 0.9f);  // edges are rounded
        }
    });
    EXPECT_EQ(things, 12);
    const Bounds all = extentOf(*result);
    EXPECT_NEAR(all.low.x, -all.high.x, 1e-5f);
    EXPECT_NEAR(all.low.y, -all.high.y, 1e-5f);
}

TEST(Symmetry, ATracedPictureIsItsOwnMirrorImage) {
    Build b = bricks();
    addTo(b, mirroredSymmetry);
    const auto result = b.result();
    Setting setting{};
    setting.camera.position = {0, 1, 12};
    setting.camera.target = {0, 1, 0};
    setting.camera.projection = Projection::parallel;
    setting.camera.width = 10;
    setting.camera.focalLength = 50;
    setting.light.zenith = setting.light.horizon = vec3(0.5f);
    Tracer tracer;
    Progress progress;
    constexpr int width = 256, height = 160;
    const Film film = exposed(tracer, {{drawListOf({&result, 1})}, {setting}}, {width, height, 16, 1}, progress);
    int seen = 0;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width / 2; ++x) {
            const auto &left = film.at(x, y), &right = film.at(width - 1 - x, y);
            // Where a pixel is full its samples have one normal, but for rounded edges.
            const auto isFull = [](const Film::Pixel& pixel) {
                const auto samples = static_cast<float>(pixel.samples);
                return pixel.coverage >= samples && glm::length(pixel.normal) >= 0.999f * samples;
            };
            if (!isFull(left) || !isFull(right)) continue;
            ++seen;
            making::expectNear(glm::normalize(left.normal), glm::normalize(right.normal) * vec3(-1, 1, 1), 0.02f);
        }
    EXPECT_GT(seen, 20);
}

TEST(Symmetry, LampsAreRepeatedToo) {
    Build b = Build::grid(1, 1, 1);
    const Edit light = addLight(b.scene, *findKind(Family::light, "spot"));
    const Edit made = addSwarmOf(light.scene, light.made);
    b.scene = made.scene;
    b.swarm = made.made;
    const auto before = lampsOf(b.result());
    for (const auto& lamp : before) EXPECT_EQ(lamp.position.y, 4) << "as high as the light was";
    addTo(b, mirroredSymmetry, {{"centre", fixedNumbers({10, 0, 0})}});
    const auto after = lampsOf(b.result());
    ASSERT_EQ(after.size(), 2 * before.size());
    // Copy by copy.
    EXPECT_NEAR(after[0].position.x + after[before.size()].position.x, 20, 1e-4f);
    EXPECT_EQ(after[0].light, after[before.size()].light);
}

TEST(Symmetry, GltfHasANodeForEachCopyAndBakesTheirMoves) {
    Build b = bricks();
    const ObjectId turned = addTo(b, turnedSymmetry, {{"times", fixedNumbers({3})}, {"mirrored", true}});
    b.key(turned, "rise", {{0, 0, Ease::linear}, {4, 1, Ease::linear}});
    Evaluator evaluator;
    Progress progress;
    PlanOptions options;
    options.wanted.placements = true;
    const auto at = [&](int frame) {
        const auto result = evaluator.evaluate(b.scene, b.swarm, frame, options, progress);
        return drawListOf({&result, 1});
    };
    const auto jsonOf = [](const std::filesystem::path& path) {
        std::ifstream in(path, std::ios::binary);
        std::string bytes((std::istreambuf_iterator<char>(in)), {});
        std::uint32_t size = 0;
        std::memcpy(&size, bytes.data() + 12, 4);
        return nlohmann::json::parse(bytes.substr(20, size));
    };
    const auto still = making::temporaryFolder() / "symmetry.glb", baked = making::temporaryFolder() / "symmetry-baked.glb";
    writeGltfStill(b.scene, at(0), {}, still, progress);
    const auto file = jsonOf(still);
    EXPECT_EQ(file["meshes"].size(), 1u);
    int mirrored = 0, instanced = 0;
    for (const auto& node : file["nodes"]) {
        if (node.contains("extensions") && node["extensions"].contains("EXT_mesh_gpu_instancing")) ++instanced;
        if (node.contains("scale") && node["scale"][0].get<double>() < 0) ++mirrored;
    }
    EXPECT_EQ(instanced, 6);
    EXPECT_EQ(mirrored, 3);
    writeGltfBaked(b.scene, at, {}, {0, 4, 25}, baked, progress);
    const auto moving = jsonOf(baked);
    // Five copies climb, the original and its mirror image stay: 4 translations.
    std::set<int> samplers;
    for (const auto& channel : moving["animations"][0]["channels"]) {
        EXPECT_EQ(channel["target"]["path"], "translation");
        samplers.insert(channel["sampler"].get<int>());
    }
    EXPECT_EQ(moving["animations"][0]["channels"].size(), 4u);
}

TEST(Symmetry, TheLoopCheckSeesCopiesThatDoNotComeBack) {
    Build b = bricks();
    const ObjectId turned = addTo(b, turnedSymmetry, {{"times", fixedNumbers({6})}});
    Evaluator evaluator;
    Progress progress;
    const double last = checkLoop(b.scene, {}, evaluator, progress).last;
    EXPECT_TRUE(checkLoop(b.scene, {}, evaluator, progress).closed);
    // A ring that has gone on by one of its turns looks as before; half a turn of them does not.
    b.key(turned, "rotation", {{0, 0, Ease::linear}, {last, 60, Ease::linear}}, 1);
    EXPECT_TRUE(checkLoop(b.scene, {}, evaluator, progress).swarms.front().closed);
    b.key(turned, "centre", {{0, 0, Ease::linear}, {last, 0.5, Ease::linear}}, 0);
    const LoopCheck open = checkLoop(b.scene, {}, evaluator, progress);
    EXPECT_FALSE(open.swarms.front().closed);
    EXPECT_EQ(open.swarms.front().breaks, turned);
    EXPECT_GT(open.swarms.front().seam.position, 0.1);
    EXPECT_NE(open.swarms.front().told.find("“Turned”"), std::string::npos) << open.swarms.front().told;
}

TEST(Symmetry, FilesOfFormat8HaveNone) {
    Build b = bricks();
    const std::string now = toJson(b.scene);
    auto json = nlohmann::ordered_json::parse(now);
    for (auto& swarm : json["swarms"]) swarm.erase("symmetries");
    json["version"] = 8;
    EXPECT_EQ(toJson(parseProject(json.dump(), "old")), now);
    addTo(b, turnedSymmetry, {{"rise", fixedNumbers({0.25})}});
    EXPECT_EQ(toJson(parseProject(toJson(b.scene), "new")), toJson(b.scene));
}
