#pragma once
#include <atomic>
#include <condition_variable>
#include <mutex>
#include <string>

#include "core/base/error.h"

namespace gswarm {

/// Handle shared by long work and whoever watches it. Safe from any thread.
class Progress {
  public:
    void cancel() {
        const std::lock_guard lock(mutex_);
        cancelled_ = true;
        goesOn_.notify_all();
    }
    bool cancelled() const { return cancelled_; }
    /// Lets the work wait where it next calls check(), until it is let go or cancelled.
    void hold(bool on) {
        const std::lock_guard lock(mutex_);
        held_ = on;
        goesOn_.notify_all();
    }
    bool held() const { return held_; }
    /// Throws Cancelled once cancel() was called, and waits while it is held. Long work calls this between its steps, on the thread that
    /// asked for it: never on one of those that all share.
    void check() const {
        if (held_) {
            std::unique_lock lock(mutex_);
            goesOn_.wait(lock, [this] { return cancelled_ || !held_; });
        }
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
    std::atomic<bool> cancelled_{false}, held_{false};
    std::atomic<double> fraction_{0}, start_{0}, end_{1};
    mutable std::mutex mutex_;
    mutable std::condition_variable goesOn_;
    std::string doing_;
};

}  // namespace gswarm
