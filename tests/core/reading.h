#pragma once
#include <gtest/gtest.h>

#include <array>

#include "core/exchange/png.h"
#include "core/media/media_kind.h"
#include "tests/core/making.h"

/// Small pictures, and a swarm that reads them.
namespace gswarm::reading {

/// A picture of bytes R G B A in the tests' folder.
inline void write(const std::string& name, int width, int height, const std::vector<std::array<int, 4>>& pixels) {
    Image image{width, height, {}};
    for (const auto& p : pixels)
        for (const int v : p) image.pixels.push_back(static_cast<std::uint8_t>(v));
    std::filesystem::create_directories((making::temporaryFolder() / name).parent_path());
    writePng(image, making::temporaryFolder() / name);
}
inline void writeGrey(const std::string& name, int value) { write(name, 1, 1, {{value, value, value, 255}}); }

inline float light(int byte) { return static_cast<float>(linearFromSrgb(byte / 255.0)); }

/// Upright, four by two, every pixel another: the first above to the left.
inline const std::vector<std::array<int, 4>> eight = {{255, 0, 0, 255}, {0, 255, 0, 255}, {0, 0, 255, 255}, {255, 255, 255, 255},
                                                      {10, 0, 0, 255},  {20, 0, 0, 255},  {30, 0, 0, 255},  {40, 0, 0, 0}};

/// A grid with a gesture that raises each by what its pattern reads.
struct Raised {
    making::Build b;
    ObjectId gesture;

    Raised(making::Build grid, const char* pattern) : b(std::move(grid)), gesture(b.gesture(pattern)) {
        b.set(gesture, "scale", true).set(gesture, "scaleAmount", {2, 2, 2});
    }
    std::shared_ptr<const Result> result(double frame = 0) const {
        Evaluator evaluator;
        Progress progress;
        return evaluator.evaluate(b.scene, b.swarm, frame, {{}, making::temporaryFolder()}, progress);
    }
    /// What was read by each: by how much it grew.
    std::vector<float> read(double frame = 0) const {
        const auto shown = result(frame), still = [&] {
            making::Build without = b;
            without.set(gesture, "scale", false);
            Evaluator evaluator;
            Progress progress;
            return evaluator.evaluate(without.scene, b.swarm, frame, {{}, making::temporaryFolder()}, progress);
        }();
        std::vector<float> values;
        for (std::size_t i = 0; i < static_cast<std::size_t>(shown->count); ++i)
            values.push_back(shown->columns->matrix[12 * i] / still->columns->matrix[12 * i] - 1);
        return values;
    }
    std::string waits() const { return result()->cards.front().waits; }
};

/// It reads media.
struct Reading : Raised {
    ObjectId media;

    Reading(int nx, int ny, int nz, const MediaKind& kind)
        : Raised(making::Build::grid(nx, ny, nz).with(addMedia, kind), "picture"), media(b.scene.all(ObjectType::media).front()) {
        b.choose(gesture, "pattern-read", "nearest").choose(gesture, "pattern-channel", "brightness");
    }
    /// With a picture of the tests' folder.
    Reading(int nx, int ny, int nz, const char* file) : Reading(nx, ny, nz, pictureMedia) { b.set(media, "file", std::string(file)); }
};

inline void expectValues(const std::vector<float>& values, const std::vector<float>& expected, float tolerance = 2e-5f) {
    ASSERT_EQ(values.size(), expected.size());
    for (std::size_t i = 0; i < values.size(); ++i) EXPECT_NEAR(values[i], expected[i], tolerance) << i;
}

}  // namespace gswarm::reading
