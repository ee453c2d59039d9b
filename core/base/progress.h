#pragma once
#include <atomic>
#include <mutex>
#include <string>

#include "core/base/error.h"

namespace gswarm {

/// Handle shared by long work and whoever watches it. Safe from any thread.
class Progress {
  public:
    void cancel() { cancelled_ = true; }
    bool cancelled() const { return cancelled_; }
    /// Throws Cancelled once cancel() was called. Long work calls this between its steps.
    void check() const {
        if (cancelled_) throw Cancelled{};
    }
    /// 0 … 1 of the part at hand.
    void report(double fraction) { fraction_ = start_ + (end_ - start_) * fraction; }
    /// What is reported from now on counts as this part of the whole, for work made of several steps.
    void part(double start, double end) {
        start_ = start;
        end_ = end;
    }
    double fraction() const { return fraction_; }
    /// What is being done, in a few words for people: "Reef sign: filling with cells".
    void say(const std::string& doing) {
        const std::lock_guard lock(mutex_);
        doing_ = doing;
    }
    std::string doing() const {
        const std::lock_guard lock(mutex_);
        return doing_;
    }

  private:
    std::atomic<bool> cancelled_{false};
    std::atomic<double> fraction_{0}, start_{0}, end_{1};
    mutable std::mutex mutex_;
    std::string doing_;
};

}  // namespace gswarm
