#pragma once
#include <cstdint>
#include <functional>
#include <optional>
#include <vector>

#include "core/base/progress.h"

/// What is worked out once there is nothing else to do, the nearest to the person first.
enum class Rest { question, ledger, acting, overlaps, loop, memory };

/// A list of such jobs with a priority and a serial; no edit ever waits for one. A newer job takes the place of an older one of
/// its kind, and one that was interrupted comes back only where no newer one waits. Not safe from several threads by itself.
class RestJobs {
  public:
    /// Returns whether it wants to go on later: because it was cancelled, or because only a part is done.
    using Work = std::function<bool(gswarm::Progress&)>;
    struct Job {
        Rest kind;
        std::uint64_t serial;
        Work work;
    };

    void post(Rest kind, Work work);
    void drop(Rest kind);
    bool waits(Rest kind) const;
    bool empty() const { return jobs_.empty(); }
    /// The first of them, taken from the list; none where it is empty.
    std::optional<Job> take();
    void putBack(const Job& job);

  private:
    void insert(Job job);

    std::vector<Job> jobs_;  ///< by kind; at most one of each
    std::uint64_t serial_ = 0;
};
