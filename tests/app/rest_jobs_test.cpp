// The list of what is worked out at rest.
#include <gtest/gtest.h>

#include "app/document/rest_jobs.h"

using gswarm::Progress;

namespace {

/// Runs what waits, one job after the other, as the evaluation does; at most so many.
std::string run(RestJobs& jobs, int most = 20) {
    std::string order;
    for (int k = 0; k < most; ++k) {
        const auto job = jobs.take();
        if (!job) break;
        Progress progress;
        order += "qlaome"[static_cast<std::size_t>(job->kind)];
        if (job->work(progress)) jobs.putBack(*job);
    }
    return order;
}

}  // namespace

TEST(RestJobs, TheNearestToThePersonComesFirst) {
    RestJobs jobs;
    const auto once = [](Progress&) { return false; };
    for (const Rest kind : {Rest::memory, Rest::overlaps, Rest::question, Rest::loop, Rest::acting, Rest::ledger}) jobs.post(kind, once);
    EXPECT_EQ(run(jobs), "qlaome");
    EXPECT_TRUE(jobs.empty());
}

TEST(RestJobs, ANewerOneTakesThePlaceOfAnOlder) {
    RestJobs jobs;
    int ran = 0;
    jobs.post(Rest::ledger, [&](Progress&) { return ran = 1, false; });
    jobs.post(Rest::ledger, [&](Progress&) { return ran = 2, false; });
    EXPECT_EQ(run(jobs), "l");
    EXPECT_EQ(ran, 2);
}

TEST(RestJobs, WhatWantsToGoOnComesBackUnlessANewerWaits) {
    RestJobs jobs;
    int parts = 0;
    jobs.post(Rest::memory, [&](Progress&) { return ++parts < 3; });
    EXPECT_EQ(run(jobs), "eee");
    EXPECT_EQ(parts, 3);
    jobs.post(Rest::loop, [&](Progress&) { return true; });
    const auto interrupted = *jobs.take();
    int newer = 0;
    jobs.post(Rest::loop, [&](Progress&) { return ++newer, false; });
    jobs.putBack(interrupted);
    EXPECT_EQ(run(jobs), "m");
    EXPECT_EQ(newer, 1);
}

TEST(RestJobs, ADroppedOneIsGone) {
    RestJobs jobs;
    jobs.post(Rest::ledger, [](Progress&) { return false; });
    EXPECT_TRUE(jobs.waits(Rest::ledger));
    jobs.drop(Rest::ledger);
    EXPECT_FALSE(jobs.waits(Rest::ledger));
    EXPECT_FALSE(jobs.take());
}
