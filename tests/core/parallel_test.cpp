// Work spread over cores: each index once, all of it done at the end, what is thrown arrives, and no more threads than asked.
#include <atomic>
#include <mutex>
#include <numeric>
#include <random>
#include <set>
#include <stdexcept>
#include <thread>

#include "core/base/parallel.h"

using namespace gswarm;

namespace {

/// The threads that took part in a few hundred ranges.
std::size_t threadsSeen(const Workers& workers) {
    std::mutex mutex;
    std::set<std::thread::id> seen;
    workers.run([&] {
        forRanges(400, 1, [&](std::size_t, std::size_t) {
            std::this_thread::sleep_for(std::chrono::microseconds(200));
            const std::lock_guard lock(mutex);
            seen.insert(std::this_thread::get_id());
        });
    });
    return seen.size();
}

}  // namespace

TEST(Parallel, RangesCoverEverythingOnceAndAreNotCutTooSmall) {
    for (const std::size_t count : {0ul, 1ul, 7ul, 4096ul, 100003ul})
        for (const std::size_t grain : {1ul, 64ul, 200000ul}) {
            std::vector<std::atomic<int>> times(count);
            std::atomic<int> ranges = 0, tooShort = 0;
            forRanges(count, grain, [&](std::size_t begin, std::size_t end) {
                ASSERT_LT(begin, end);
                ASSERT_LE(end, count);
                ++ranges;
                if (end - begin < std::min(grain / 2, count)) ++tooShort;
                for (std::size_t i = begin; i < end; ++i) ++times[i];
            });
            EXPECT_TRUE(std::all_of(times.begin(), times.end(), [](const auto& t) { return t == 1; })) << count << " by " << grain;
            EXPECT_EQ(tooShort, 0) << count << " by " << grain;
            if (count <= grain) {
                EXPECT_EQ(ranges, count > 0 ? 1 : 0) << count;
            }
        }
}

TEST(Parallel, WhatWasWrittenIsSeenAfterwardsAlsoFromWithinRanges) {
    std::vector<int> sums(100);
    forEach(sums.size(), [&](std::size_t outer) {
        std::vector<int> parts(50);
        forEach(parts.size(), [&](std::size_t inner) { parts[inner] = static_cast<int>(outer * inner); });
        sums[outer] = std::accumulate(parts.begin(), parts.end(), 0);
    });
    for (std::size_t k = 0; k < sums.size(); ++k) EXPECT_EQ(sums[k], static_cast<int>(k) * 49 * 50 / 2);
}

TEST(Parallel, WhatARangeThrowsArrivesOnceNothingRunsAnyMore) {
    std::atomic<int> running = 0;
    const auto failing = [&] {
        forEach(1000, [&](std::size_t i) {
            ++running;
            std::this_thread::sleep_for(std::chrono::microseconds(20));
            --running;
            if (i == 321) throw std::runtime_error("the reef is full");
        });
    };
    try {
        failing();
        FAIL() << "it should have thrown";
    } catch (const std::runtime_error& thrown) {
        EXPECT_STREQ(thrown.what(), "the reef is full");
    }
    EXPECT_EQ(running, 0);
    EXPECT_THROW(Workers(2).run(failing), std::runtime_error) << "through a team too";
}

TEST(Parallel, ATeamIsNeverLargerThanAsked) {
    EXPECT_EQ(threadsSeen(Workers(1)), 1u);
    EXPECT_LE(threadsSeen(Workers(2)), 2u);
    EXPECT_EQ(Workers(3).count(), 3);
    EXPECT_GE(Workers(0).count(), 1);
}

TEST(Parallel, SortingIsThatOfTheStandardLibrary) {
    std::mt19937_64 random(15);
    for (const std::size_t count : {0ul, 1ul, 1000ul, 32768ul, 32769ul, 65536ul, 300000ul}) {
        std::vector<std::pair<std::uint32_t, std::uint32_t>> items(count);
        for (std::size_t i = 0; i < count; ++i) items[i] = {static_cast<std::uint32_t>(random() % 1000), static_cast<std::uint32_t>(i)};
        std::shuffle(items.begin(), items.end(), random);
        auto expected = items;
        std::sort(expected.begin(), expected.end());
        sortInParallel(items, std::less<>());
        EXPECT_TRUE(items == expected) << count;
    }
}
