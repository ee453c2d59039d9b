#include "live/around.h"

#include <epoxy/gl.h>

#include <algorithm>
#include <cmath>

namespace gswarm::live {
namespace {

void keepEdges(GLenum target) {
    glTexParameteri(target, GL_TEXTURE_MIN_FILTER, GL_LINEAR);
    glTexParameteri(target, GL_TEXTURE_MAG_FILTER, GL_LINEAR);
    glTexParameteri(target, GL_TEXTURE_WRAP_S, GL_REPEAT);
    glTexParameteri(target, GL_TEXTURE_WRAP_T, GL_CLAMP_TO_EDGE);
    glTexParameteri(target, GL_TEXTURE_WRAP_R, GL_CLAMP_TO_EDGE);
}

float strength(const Surroundings& one) {
    const glm::vec3 light = one.picture ? one.light * one.picture->mean() : glm::vec3(0);
    return light.x + light.y + light.z;
}

}  // namespace

Around::Around() {
    glGenTextures(1, &sharp_);
    glGenTextures(1, &blurred_);
    glBindTexture(GL_TEXTURE_2D, sharp_);
    keepEdges(GL_TEXTURE_2D);
    glBindTexture(GL_TEXTURE_3D, blurred_);
    keepEdges(GL_TEXTURE_3D);
}

Around::~Around() {
    glDeleteTextures(1, &sharp_);
    glDeleteTextures(1, &blurred_);
}

void Around::take(const std::shared_ptr<const Panorama>& picture) {
    if (picture_.lock() == picture) return;
    picture_ = picture;
    glPixelStorei(GL_UNPACK_ALIGNMENT, 4);
    glBindTexture(GL_TEXTURE_2D, sharp_);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_RGB16F, picture->width(), picture->height(), 0, GL_RGB, GL_FLOAT, picture->light().data());
    const BlurredPanorama blurs = blurred(*picture);
    matt_ = blurs.matt;
    glBindTexture(GL_TEXTURE_3D, blurred_);
    glTexImage3D(GL_TEXTURE_3D, 0, GL_RGB16F, BlurredPanorama::side, BlurredPanorama::side, BlurredPanorama::levels, 0, GL_RGB, GL_FLOAT,
                 blurs.light.data());
}

bool Around::shines(const std::vector<Surroundings>& all) {
    return std::any_of(all.begin(), all.end(), [](const Surroundings& one) { return strength(one) > 0; });
}

Around::Light Around::use(Program& program, const std::vector<Surroundings>& all, int unit) {
    Light given;
    if (!shines(all)) return given;
    const auto brightest =
        std::max_element(all.begin(), all.end(), [&](const Surroundings& a, const Surroundings& b) { return strength(a) < strength(b); });
    glActiveTexture(static_cast<GLenum>(GL_TEXTURE0 + unit));
    take(brightest->picture);
    glBindTexture(GL_TEXTURE_2D, sharp_);
    glActiveTexture(static_cast<GLenum>(GL_TEXTURE0 + unit + 1));
    glBindTexture(GL_TEXTURE_3D, blurred_);
    program.set("aroundSharp", unit);
    program.set("aroundBlurred", unit + 1);
    program.set("aroundLight", brightest->light);
    const float cosine = std::cos(brightest->around), sine = std::sin(brightest->around);
    program.set("aroundTurn", glm::vec2(cosine, sine));
    given.matt = smoothed(harmonicScale, [&](const glm::vec3& d) {
        return lightFrom(matt_, {cosine * d.x - sine * d.z, d.y, sine * d.x + cosine * d.z}) * brightest->light;
    });
    for (const Surroundings& one : all)
        if (&one != &*brightest && one.picture) given.evenly += one.light * one.picture->mean();
    return given;
}

}  // namespace gswarm::live
