// The handle of long work: it waits where it is held, goes on where it was, and ends when it is cancelled.
#include <gtest/gtest.h>

#include <thread>

#include "core/base/progress.h"
#include "core/picture/trace.h"
#include "tests/core/paper.h"

using namespace gswarm;

TEST(Progress, HeldWorkWaitsUntilItIsLetGo) {
    Progress progress;
    std::atomic<int> steps{0};
    progress.hold(true);
    std::thread work([&] {
        for (int k = 0; k < 3; ++k) progress.check(), ++steps;
    });
    std::this_thread::sleep_for(std::chrono::milliseconds(50));
    EXPECT_EQ(steps, 0);
    progress.hold(false);
    work.join();
    EXPECT_EQ(steps, 3);
}

TEST(Progress, HeldWorkCanBeCancelled) {
    Progress progress;
    progress.hold(true);
    bool thrown = false;
    std::thread work([&] {
        try {
            progress.check();
        } catch (const Cancelled&) {
            thrown = true;
        }
    });
    progress.cancel();
    work.join();
    EXPECT_TRUE(thrown);
}

TEST(Progress, APictureThatWasHeldIsTheSameAsOneThatWasNot) {
    const making::Paper paper;
    const DrawList list = paper.list();
    const Setting setting = paper.setting();
    const int across = making::sanitized ? 80 : 200;
    const TraceSize size{across, across, making::sanitized ? 8 : 64, 3};
    Progress never, held;
    const Image through = trace(list, setting, size, never);
    Image stopped;
    std::atomic<bool> done{false};
    std::thread work([&] {
        stopped = trace(list, setting, size, held);
        done = true;
    });
    // Again and again, wherever it is by then; while it is held it gets no further than the tiles at hand: a tile a thread.
    int waits = 0;
    while (!done) {
        held.hold(true);
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
        const double before = held.fraction();
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
        if (!done) {
            EXPECT_LT(held.fraction() - before, making::sanitized ? 0.2 : 0.05);
            ++waits;
        }
        held.hold(false);
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
    work.join();
    EXPECT_GT(waits, 0);
    EXPECT_EQ(stopped.pixels, through.pixels);
}
