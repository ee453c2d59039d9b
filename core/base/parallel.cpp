#include "core/base/parallel.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#ifdef GSWARM_THREAD_SANITIZER
#include <sanitizer/tsan_interface.h>
#endif

namespace gswarm {
namespace {

// The task library is not built with the thread sanitizer, which so can't see that ranges begin after they were handed out
// and have ended when the call returns: it is told. (This file is compiled without it for the same reason.)
#ifdef GSWARM_THREAD_SANITIZER
void comesAfter(char& event) { __tsan_acquire(&event); }
void happened(char& event) { __tsan_release(&event); }
#else
void comesAfter(char&) {}
void happened(char&) {}
#endif

struct Handing {
    char handedOut = 0, done = 0;
};

/// One range: after it was handed out, before all is done.
struct Taken {
    explicit Taken(Handing& handing) : handing(handing) { comesAfter(handing.handedOut); }
    ~Taken() { happened(handing.done); }
    Handing& handing;
};

}  // namespace

void forRanges(std::size_t count, std::size_t grain, const std::function<void(std::size_t, std::size_t)>& work) {
    const auto handing = std::make_unique<Handing>();
    happened(handing->handedOut);
    struct Returned {
        Handing& handing;
        ~Returned() { comesAfter(handing.done); }
    } const returned{*handing};
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, grain), [&](const tbb::blocked_range<std::size_t>& range) {
        const Taken taken(*handing);
        work(range.begin(), range.end());
    });
}

void forEach(std::size_t count, const std::function<void(std::size_t)>& work) {
    forRanges(count, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) work(i);
    });
}

struct Workers::Team {
    tbb::task_arena arena;
};

Workers::Workers(int threads) : team_(std::make_unique<Team>()) {
    team_->arena.initialize(threads > 0 ? threads : static_cast<int>(tbb::this_task_arena::max_concurrency()));
}
Workers::~Workers() = default;

int Workers::count() const { return team_->arena.max_concurrency(); }

void Workers::run(const std::function<void()>& work) const {
    const auto handing = std::make_unique<Handing>();
    happened(handing->handedOut);
    team_->arena.execute([&] {
        const Taken taken(*handing);
        work();
    });
    comesAfter(handing->done);
}

}  // namespace gswarm
