#pragma once
#include <algorithm>
#include <cmath>

#include "core/scene/frame_range.h"

/// How frames follow each other while the project plays: for the picture and for what is heard.
struct PlayWay {
    enum class Mode { loop, once, backAndForth };  ///< over and over, to the end of the range, or there and back

    gswarm::FrameRange range{};
    Mode mode = Mode::loop;
    double start = 0;  ///< the frame at which playing began
    double rate = 25;  ///< frames a second

    double length() const { return range.last - range.first + 1; }
    bool over(double seconds) const { return mode == Mode::once && gone(seconds) >= length(); }

    /// The frame that is seen so many seconds after playing began.
    double frameAt(double seconds) const {
        if (over(seconds)) return range.last;
        double into = within(gone(seconds), length());
        if (mode == Mode::backAndForth && length() > 1) {
            const double there = within(std::floor(gone(seconds)), 2 * (length() - 1));
            into = there < length() ? there : 2 * (length() - 1) - there;
        }
        return range.first + std::floor(into);
    }

    /// What is heard from that moment on, until it goes on elsewhere.
    struct Stretch {
        double frame;    ///< where it begins
        double seconds;  ///< how long it lasts
        bool backward;   ///< it is heard from its beginning to earlier frames
        bool silent;
    };
    Stretch stretchAt(double seconds) const {
        const double at = gone(seconds);
        if (over(seconds)) return {double(range.last), 1, false, true};
        if (mode == Mode::backAndForth && length() > 1) {
            const double turn = length() - 1, lap = within(at, 2 * turn);
            if (lap < turn) return {range.first + lap, (turn - lap) / rate, false, false};
            return {range.first + 2 * turn - lap, (2 * turn - lap) / rate, true, false};
        }
        const double into = within(at, length());
        return {range.first + into, (length() - into) / rate, false, false};
    }

  private:
    double gone(double seconds) const { return start - range.first + seconds * rate; }
    static double within(double x, double length) {
        const double into = std::fmod(x, length);
        return into < 0 ? into + length : into;
    }
};
