#include "tool/progress.h"

#include <atomic>
#include <chrono>
#include <cmath>
#include <csignal>
#include <cstdio>
#include <iostream>
#include <thread>

#include "core/base/error.h"

namespace gswarm::tool {
namespace {

using Clock = std::chrono::steady_clock;

std::atomic<Progress*> atWork{nullptr};

void interrupted(int) {
    if (Progress* progress = atWork) progress->cancel();
}

/// Tells how far the work is, at most every two seconds and only where there is something new.
class Watcher {
  public:
    explicit Watcher(const Progress& progress) : progress_(progress), thread_([this] { run(); }) {}
    ~Watcher() {
        done_ = true;
        thread_.join();
    }

  private:
    void run() {
        const auto started = Clock::now();
        auto told = started;
        int shown = -1;
        std::string doing;
        while (!done_) {
            std::this_thread::sleep_for(std::chrono::milliseconds(20));
            const auto now = Clock::now();
            if (now - told < std::chrono::seconds(2)) continue;
            const double fraction = progress_.fraction();
            const int percent = static_cast<int>(fraction * 100);
            if (percent == shown && progress_.doing() == doing) continue;
            shown = percent;
            doing = progress_.doing();
            told = now;
            const double passed = std::chrono::duration<double>(now - started).count();
            const std::string left = fraction > 0.02 ? ", " + clock(passed * (1 - fraction) / fraction) + " left" : "";
            std::cerr << "gswarm: " << (doing.empty() ? "" : doing + ", ") << percent << " %" << left << '\n';
        }
    }

    const Progress& progress_;
    std::atomic<bool> done_{false};
    std::thread thread_;
};

}  // namespace

std::string clock(double seconds) {
    const auto whole = static_cast<long>(std::lround(seconds));
    char text[32];
    if (whole >= 3600)
        std::snprintf(text, sizeof text, "%ld:%02ld:%02ld", whole / 3600, whole / 60 % 60, whole % 60);
    else
        std::snprintf(text, sizeof text, "%ld:%02ld", whole / 60, whole % 60);
    return text;
}

void withProgress(const std::function<void(Progress&)>& work) {
    Progress progress;
    atWork = &progress;
    for (const int signal : {SIGINT, SIGTERM}) std::signal(signal, interrupted);
    const auto finish = [] {
        for (const int signal : {SIGINT, SIGTERM}) std::signal(signal, SIG_DFL);
        atWork = nullptr;
    };
    try {
        const Watcher watcher(progress);
        work(progress);
    } catch (const Cancelled&) {
        finish();
        throw Error("Stopped; what was not finished was not written.");
    } catch (...) {
        finish();
        throw;
    }
    finish();
}

}  // namespace gswarm::tool
