#include "live/lamp_shadows.h"

#include <epoxy/gl.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>

namespace gswarm::live {
namespace {

constexpr std::size_t mostDrawn = 120'000;       ///< instances over all lamps
constexpr float widestHalf = 1.3f;               ///< radians: beyond it a flat lamp's light is little, and throws none
constexpr float faceHalf = 0.80f;                ///< a little more than an eighth of a turn, so that faces meet
constexpr float atOnce = 0.02f, nowhere = 1e3f;  ///< nearest and farthest depths, metres

bool isPoint(const Lamp& lamp) { return lamp.form == LampForm::point; }
int placesOf(const Lamp& lamp) { return isPoint(lamp) ? 6 : 1; }

/// Where each place of a lamp looks. The faces of a point are in the order +X −X +Y −Y +Z −Z.
std::vector<glm::vec3> waysOf(const Lamp& lamp) {
    if (!isPoint(lamp)) return {lamp.along};
    return {{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
}

float halfAngle(const Lamp& lamp) {
    if (isPoint(lamp)) return faceHalf;
    return lamp.form == LampForm::spot ? std::clamp(std::acos(lamp.cosineNone), 0.02f, widestHalf) : widestHalf;
}

}  // namespace

std::size_t LampShadows::fitting(std::span<const Lamp> lamps) {
    std::size_t count = 0;
    for (int taken = 0; count < lamps.size(); ++count)
        if ((taken += placesOf(lamps[count])) > places) break;
    return count;
}

bool LampShadows::has(const std::vector<Cast>& casts, std::span<const Lamp> lamps) const {
    // Colour and strength change no shadow.
    const auto alike = [](const Lamp& a, const Lamp& b) {
        return a.form == b.form && a.position == b.position && a.along == b.along && a.radius == b.radius && a.cosineNone == b.cosineNone;
    };
    return std::equal(lamps.begin(), lamps.end(), lamps_.begin(), lamps_.end(), alike) && casts == casts_;
}

void LampShadows::draw(const DrawList& list, std::span<const Lamp> lamps, CasterDrawer& drawer, GpuMeshes& meshes, unsigned matrixBuffer) {
    casts_ = castsOf(list);
    lamps_.assign(lamps.begin(), lamps.end());
    toMap_.clear(), first_.clear(), texel_.clear();
    const Bounds bounds = boundsOf(casts_);
    glBindFramebuffer(GL_FRAMEBUFFER, map_.frame);
    glViewport(0, 0, size, size);
    glDepthMask(GL_TRUE);
    glClear(GL_DEPTH_BUFFER_BIT);
    constexpr int side = size / across;
    std::size_t drawn = 0;
    for (const Lamp& lamp : lamps) drawn += castersOf(list, lamp);
    const std::size_t stride = drawn / mostDrawn + 1;
    for (const Lamp& lamp : lamps) {
        first_.push_back(static_cast<float>(toMap_.size()));
        const float half = halfAngle(lamp), pixels = side / (2 * std::tan(half));
        texel_.push_back(1 / pixels);
        // What is inside a lamp's own ball throws no shadow of it.
        const float nearest = std::max(atOnce, lamp.radius);
        float farthest = bounds.empty() ? nowhere : 0;
        for (int k = 0; k < 8 && !bounds.empty(); ++k)
            farthest = std::max(
                farthest, glm::distance(lamp.position, glm::vec3(k & 1 ? bounds.low.x : bounds.high.x, k & 2 ? bounds.low.y : bounds.high.y,
                                                                 k & 4 ? bounds.low.z : bounds.high.z)));
        for (const glm::vec3& way : waysOf(lamp)) {
            const auto place = static_cast<int>(toMap_.size());
            glViewport(place % across * side, place / across * side, side, side);
            ShadowView view;
            view.parallel = false;
            view.pixels = pixels;
            view.toLight =
                glm::lookAt(lamp.position, lamp.position + way, std::abs(way.y) > 0.99f ? glm::vec3(0, 0, 1) : glm::vec3(0, 1, 0));
            view.toMap = glm::perspective(2 * half, 1.0f, nearest, std::max(farthest, 2 * nearest));
            toMap_.push_back(view.toMap * view.toLight);
            drawer.draw(list, view, stride, meshes, matrixBuffer);
        }
    }
}

void LampShadows::use(Program& program, int unit) const {
    glActiveTexture(static_cast<GLenum>(GL_TEXTURE0 + unit));
    glBindTexture(GL_TEXTURE_2D, map_.texture);
    program.set("lampShadowMap", unit);
    program.set("lampToMap", std::span<const glm::mat4>(toMap_));
    program.set("lampFirstPlace", std::span<const float>(first_));
    program.set("lampTexel", std::span<const float>(texel_));
}

}  // namespace gswarm::live
