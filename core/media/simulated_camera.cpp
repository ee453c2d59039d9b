// A camera that is not there: a lantern drifts over dark water, and now and then a fish passes. No device is ever opened.
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/vec2.hpp>

#include "core/base/chance.h"
#include "core/base/content_hash.h"
#include "core/base/parallel.h"
#include "core/base/precise.h"
#include "core/base/text.h"
#include "core/media/media_kind.h"

namespace gswarm {
namespace {

struct SimulatedCamera {
    int width, height;
    float rate;
    int seed;
    bool loops;
};

constexpr int ripples = 5, fish = 3;

double sine(double turns) { return precise::sineCosineOfTurns(turns - std::floor(turns)).sine; }

double secondsOf(const SimulatedCamera& camera, const Moment& moment) {
    return std::floor(moment.seconds() * camera.rate + 1e-6) / camera.rate;
}

/// What moves, at one moment. A period is made to fit the loop where that is to close.
struct Setting {
    const SimulatedCamera& camera;
    double seconds, loop;

    double chance(std::uint64_t which) const { return gswarm::chance(static_cast<std::uint32_t>(camera.seed), which, 40); }
    double turns(double period) const {
        if (camera.loops) period = loop / std::max(1.0, std::round(loop / period));
        return seconds / period;
    }
    /// In heights of the picture from its middle.
    glm::dvec2 lantern() const { return {0.55 * sine(turns(9) + chance(1)), 0.08 + 0.2 * sine(turns(5.5) + chance(2))}; }
};

struct Ripple {
    glm::dvec2 along;
    double turns, height;
};
struct Passing {
    glm::dvec2 middle;
    double length, facing;
};

MediaFrame frameAt(const SimulatedCamera& camera, double seconds, double loop) {
    const Setting setting{camera, seconds, loop};
    const glm::dvec2 lantern = setting.lantern();
    const double flicker = 1 + 0.06 * sine(setting.turns(0.37)) + 0.04 * sine(setting.turns(0.23) + 0.3);
    Ripple waves[ripples];
    double length = 0.16;
    for (int k = 0; k < ripples; ++k, length *= 0.72) {
        const auto which = static_cast<std::uint64_t>(10 + 3 * k);
        const auto turn = precise::sineCosineOfTurns(setting.chance(which));
        waves[k] = {glm::dvec2(turn.cosine, turn.sine) / length, setting.turns(0.9 + 0.5 * k) + setting.chance(which + 1), 0.5 * length};
    }
    const double across = static_cast<double>(camera.width) / camera.height;
    Passing passing[fish];
    for (int k = 0; k < fish; ++k) {
        const auto which = static_cast<std::uint64_t>(50 + 4 * k);
        const double lap = setting.turns(6.5 + 4 * k) + setting.chance(which), facing = setting.chance(which + 1) < 0.5 ? -1 : 1;
        const double length = 0.16 + 0.14 * setting.chance(which + 2);
        // From beyond one side to beyond the other.
        const double way = (lap - std::floor(lap)) * (across + 4 * length) - across / 2 - 2 * length;
        passing[k] = {{facing * way, 0.8 * setting.chance(which + 3) - 0.4 + 0.03 * sine(3 * lap)}, length, facing};
    }
    const auto count = static_cast<std::size_t>(camera.width) * static_cast<std::size_t>(camera.height);
    Pixels<glm::vec4> picture{camera.width, camera.height, std::vector<glm::vec4>(count)};
    forRanges(static_cast<std::size_t>(camera.height), 8, [&](std::size_t begin, std::size_t end) {
        for (std::size_t row = begin; row < end; ++row)
            for (int column = 0; column < camera.width; ++column) {
                const glm::dvec2 p((column + 0.5) / camera.height - across / 2, 0.5 - (static_cast<double>(row) + 0.5) / camera.height);
                // The slope of the water bends where the lantern is seen in it, and sparkles.
                glm::dvec2 slope(0);
                for (const Ripple& wave : waves) slope += wave.along * (wave.height * 0.2 * sine(glm::dot(wave.along, p) + wave.turns));
                const glm::dvec2 away = p + slope * 0.12 - lantern;
                const double near = glm::dot(away, away), tilt = std::max(0.0, 0.5 + 0.35 * slope.x + 0.5 * slope.y);
                const double glow = flicker / (1 + 28 * near), sparkle = flicker * tilt * tilt * tilt / (1 + 9 * near);
                glm::dvec3 light = glm::dvec3(0.006, 0.02, 0.028) * (0.6 + 0.8 * tilt) + glm::dvec3(1.0, 0.52, 0.16) * glow +
                                   glm::dvec3(0.5, 0.36, 0.2) * (0.5 * sparkle);
                for (const Passing& one : passing) {
                    // A body and a tail, dark against the light.
                    const glm::dvec2 from = (p - one.middle) * glm::dvec2(one.facing, 1) / one.length;
                    const double body = from.x * from.x / 0.25 + from.y * from.y / 0.02;
                    const double tail = std::max(std::abs(from.y) - 0.4 * std::max(0.0, -0.35 - from.x), std::abs(from.x + 0.5) - 0.17);
                    const double inside = std::min(body - 1, tail * 12);
                    light *= glm::clamp(0.12 + 0.88 * glm::clamp(inside * 4 + 0.5, 0.0, 1.0), 0.0, 1.0);
                }
                picture.pixels[row * static_cast<std::size_t>(camera.width) + static_cast<std::size_t>(column)] =
                    glm::vec4(glm::vec3(light), 1);
            }
    });
    return {std::move(picture)};
}

MediaShown shown(const SimulatedCamera& camera, const MediaSource& source) {
    const double seconds = secondsOf(camera, source.moment), loop = source.moment.loopFrames / source.moment.rate;
    ContentHash key;
    key.add("simulated camera");
    for (const int number : {camera.width, camera.height, camera.seed, int(camera.loops)}) key.add(static_cast<std::uint64_t>(number));
    key.add(seconds);
    key.add(camera.loops ? loop : 0.0);
    return {key.value(), [camera, seconds, loop] { return frameAt(camera, seconds, loop); }};
}

std::string told(const SimulatedCamera& camera, const MediaSource&) {
    return "Simulated: a made-up scene, " + shortNumber(camera.rate) + " pictures a second. No camera is opened.";
}

}  // namespace

const MediaKind simulatedCameraMedia = shows(
    DescribeMedia<SimulatedCamera>("simulatedCamera", "Simulated camera",
                                   "A made-up scene that moves: a lantern over dark water, and fish that pass. No device is opened")
        .found("webcam live video input feed lantern water")
        .whole("width", &SimulatedCamera::width, 160, {16, 640}, "Pixels across")
        .hard(1, 4096)
        .whole("height", &SimulatedCamera::height, 90, {16, 360}, "Pixels from top to bottom")
        .hard(1, 4096)
        .number("rate", &SimulatedCamera::rate, 25, {1, 60}, "Pictures a second")
        .hard(0.01, 1000)
        .whole("seed", &SimulatedCamera::seed, 1, {0, 1000}, "Another seed, another scene")
        .hard(0, 1e9)
        .toggle("loops", &SimulatedCamera::loops, false, "Everything comes back to where it was after each loop of the project"),
    shown, +[](const SimulatedCamera&) { return true; }, told);

}  // namespace gswarm
