// Homes as columns: what is put in comes out, and every column goes along.
#include <glm/gtc/quaternion.hpp>

#include "core/shape/homes.h"

using namespace gswarm;

namespace {

constexpr std::uint64_t wide = 0xfedcba9876543210;

Homes three() {
    Homes homes;
    homes.add({1, 2, 3}, {0.5f, 0.5f, -0.5f, 0.5f}, wide, 1.5f);
    homes.add({-4, 5, -6}, 7);
    homes.add({7, 8, 9}, 8);
    return homes;
}

}  // namespace

TEST(Homes, GiveBackWhatWasAdded) {
    const Homes homes = three();
    ASSERT_EQ(homes.count(), 3u);
    EXPECT_EQ(homes.placeOf(0), glm::vec3(1, 2, 3));
    EXPECT_EQ(homes.turnOf(0), glm::quat(0.5f, 0.5f, -0.5f, 0.5f));
    EXPECT_EQ(homes.idOf(0), wide) << "both halves of an id";
    EXPECT_EQ(homes.size[0], 1.5f);
    EXPECT_EQ(homes.turnOf(1), glm::quat(1, 0, 0, 0)) << "not turned";
    EXPECT_EQ(homes.size[1], 1.0f);
    EXPECT_EQ(homes.idOf(1), 7u);
    EXPECT_EQ(placesOf(homes), (std::vector<glm::vec3>{{1, 2, 3}, {-4, 5, -6}, {7, 8, 9}}));
}

TEST(Homes, ChangeOneHomeAndLeaveTheOthers) {
    Homes homes = three();
    homes.setPlace(1, {0.25f, 0, 1});
    homes.setTurn(1, {0, 1, 0, 0});
    homes.setId(1, wide + 1);
    EXPECT_EQ(homes.placeOf(1), glm::vec3(0.25f, 0, 1));
    EXPECT_EQ(homes.turnOf(1), glm::quat(0, 1, 0, 0));
    EXPECT_EQ(homes.idOf(1), wide + 1);
    EXPECT_EQ(homes.placeOf(2), glm::vec3(7, 8, 9));
    EXPECT_EQ(homes.idOf(0), wide);
}

TEST(Homes, AllColumnsAreAsLongAsTheirCount) {
    Homes homes = three();
    homes.resize(5);
    int columns = 0;
    eachHomeColumn(homes, homes, [&](const auto& column, const auto&) {
        EXPECT_EQ(column.size(), 5u);
        ++columns;
    });
    EXPECT_EQ(columns, 3 + 4 + 1 + 2) << "place, turn, size and the halves of an id";
    EXPECT_EQ(homes.placeOf(2), glm::vec3(7, 8, 9)) << "what was there stays";
}

TEST(Homes, StandOnASlopeByItsNormalAndTangent) {
    const glm::vec3 normal = glm::normalize(glm::vec3(1, 2, -0.5f)), tangent = glm::normalize(glm::vec3(0.3f, 0.1f, 1));
    const glm::quat turn = standingOn(normal, tangent);
    const glm::vec3 up = turn * glm::vec3(0, 1, 0), ahead = turn * glm::vec3(0, 0, 1);
    EXPECT_NEAR(glm::length(up - normal), 0, 1e-6);
    EXPECT_NEAR(glm::dot(ahead, normal), 0, 1e-6);
    EXPECT_NEAR(glm::length(ahead - glm::normalize(tangent - normal * glm::dot(tangent, normal))), 0, 1e-6);
    // A tangent along the normal says nothing: some turn about it is taken, and it is one.
    EXPECT_NEAR(glm::length(standingOn(normal, normal) * glm::vec3(0, 1, 0) - normal), 0, 1e-6);
}
