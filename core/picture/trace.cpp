#include "core/picture/trace.h"

#include <atomic>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/picture/path.h"

namespace gswarm {

using glm::vec3;

void checkTraceSize(const TraceSize& size) {
    if (size.width < 1 || size.height < 1 || size.width > 16384 || size.height > 16384)
        throw Error("A picture of " + std::to_string(size.width) + " × " + std::to_string(size.height) +
                    " can't be made; each side takes 1 to 16384 pixels.");
    if (size.samples < 1 || size.samples > 4096)
        throw Error(std::to_string(size.samples) + " samples can't be taken; a pixel takes 1 to 4096.");
}

namespace {

/// The camera of a shot at each moment, with what rays need of it.
class Lens {
  public:
    Lens(const std::vector<Setting>& settings, float aspect) {
        for (const Setting& setting : settings) moments_.push_back(momentOf(setting.camera, aspect));
    }
    struct Ray {
        vec3 from, direction;
    };
    /// Through a place of the picture, −1 … 1 both ways, and of the lens.
    Ray through(float u, float v, float time, float lensU, float lensV) const {
        const float at = time * static_cast<float>(moments_.size() - 1);
        const std::size_t k = std::min(static_cast<std::size_t>(at), moments_.size() - 1), next = std::min(k + 1, moments_.size() - 1);
        const Ray a = ray(moments_[k], u, v, lensU, lensV);
        if (k == next) return a;
        const Ray b = ray(moments_[next], u, v, lensU, lensV);
        const float share = at - static_cast<float>(k);
        return {glm::mix(a.from, b.from, share), glm::normalize(glm::mix(a.direction, b.direction, share))};
    }

  private:
    struct Moment {
        vec3 eye, right, up, back;
        float across, upward, radius, sharpAt;
    };
    static Moment momentOf(const Camera& camera, float aspect) {
        const glm::mat4 toWorld = glm::inverse(viewMatrix(camera));
        Moment m{camera.position, vec3(toWorld[0]), vec3(toWorld[1]), vec3(toWorld[2]), 0, 0, 0, 1};
        m.upward = std::tan(verticalFieldOfView(camera, aspect) * 0.5f);
        m.across = m.upward * aspect;
        if (camera.focus == Focus::everything) return m;
        m.radius = camera.focalLength / 1000 / camera.fNumber / 2;
        m.sharpAt = camera.focus == Focus::distance ? camera.focusDistance : glm::length(camera.target - camera.position);
        return m;
    }
    static Ray ray(const Moment& m, float u, float v, float lensU, float lensV) {
        const vec3 sharp = (m.right * (u * m.across) + m.up * (v * m.upward) - m.back) * m.sharpAt;
        const float r = m.radius * std::sqrt(lensU), around = 2 * std::numbers::pi_v<float> * lensV;
        const vec3 lens = m.right * (r * std::cos(around)) + m.up * (r * std::sin(around));
        return {m.eye + lens, glm::normalize(sharp - lens)};
    }

    std::vector<Moment> moments_;
};

}  // namespace

Image trace(const Shot& shot, const TraceSize& size, Progress& progress) {
    checkTraceSize(size);
    // Light and display are those of the middle.
    const Setting& setting = shot.settings[shot.settings.size() / 2];
    const TraceWorld world(shot.lists, setting.light, progress);
    const LampTree lamps(setting.lamps);
    const Lens lens(shot.settings, static_cast<float>(size.width) / static_cast<float>(size.height));
    Image image{size.width, size.height,
                std::vector<std::uint8_t>(4 * static_cast<std::size_t>(size.width) * static_cast<std::size_t>(size.height))};
    std::atomic<int> rowsDone{0};
    const auto row = [&](std::size_t number) {
        const int y = static_cast<int>(number);
        for (int x = 0; x < size.width; ++x) {
            if (progress.cancelled()) return;
            vec3 sum(0);
            for (int s = 0; s < size.samples; ++s) {
                Sobol numbers(static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y), static_cast<std::uint32_t>(s), size.seed);
                const float u = (static_cast<float>(x) + numbers.next()) / static_cast<float>(size.width) * 2 - 1;
                const float v = 1 - (static_cast<float>(y) + numbers.next()) / static_cast<float>(size.height) * 2;
                numbers.together();
                const float time = numbers.next(), lensU = numbers.next(), lensV = numbers.next();
                const Lens::Ray ray = lens.through(u, v, time, lensU, lensV);
                sum += tracePath({world, setting, lamps, time}, ray.from, ray.direction, numbers);
            }
            const vec3 shown = display(sum / static_cast<float>(size.samples), setting.exposure, setting.display);
            std::uint8_t* pixel =
                &image.pixels[4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width) + static_cast<std::size_t>(x))];
            for (int c = 0; c < 3; ++c) pixel[c] = static_cast<std::uint8_t>(shown[c] * 255 + 0.5f);
            pixel[3] = 255;
        }
        progress.report(static_cast<double>(++rowsDone) / size.height);
    };
    forEach(static_cast<std::size_t>(size.height), row);
    progress.check();
    return image;
}

}  // namespace gswarm
