#include "live/shadow_map.h"

#include <epoxy/gl.h>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>

namespace gswarm::live {

void ShadowMap::draw(const DrawList& list, const Sun& sun, CasterDrawer& drawer, GpuMeshes& meshes, unsigned matrixBuffer) {
    casts_ = castsOf(list);
    sun_ = sun;
    empty_ = false;
    const Bounds bounds = boundsOf(casts_);
    const glm::vec3 middle = bounds.empty() ? glm::vec3(0) : bounds.centre();
    const float radius = bounds.empty() ? 1 : std::max(glm::length(bounds.size()) * 0.5f, 1e-3f);
    const glm::vec3 up = std::abs(sun.toward.y) > 0.99f ? glm::vec3(0, 0, 1) : glm::vec3(0, 1, 0);
    ShadowView view;
    view.toLight = glm::lookAt(middle + sun.toward * (2 * radius), middle, up);
    // Its depth reaches farther than its width, so that a floor below is in it too.
    view.toMap = glm::ortho(-radius, radius, -radius, radius, 0.0f, 6 * radius);
    view.pixels = size / (2 * radius);
    toMap_ = view.toMap * view.toLight;
    // As wide as the half-shadow behind something a tenth of the scene away.
    spread_ = std::tan(std::min(sun.size, 1.0f) / 2) * 0.1f;
    glBindFramebuffer(GL_FRAMEBUFFER, map_.frame);
    glViewport(0, 0, size, size);
    glDepthMask(GL_TRUE);
    glClear(GL_DEPTH_BUFFER_BIT);
    drawer.draw(list, view, 1, meshes, matrixBuffer);
}

void ShadowMap::use(Program& program, int unit) const {
    glActiveTexture(static_cast<GLenum>(GL_TEXTURE0 + unit));
    glBindTexture(GL_TEXTURE_2D, map_.texture);
    program.set("shadowMap", unit);
    program.set("shadowSpread", spread_);
    program.set("toShadow", glm::translate(glm::mat4(1), glm::vec3(0.5f)) * glm::scale(glm::mat4(1), glm::vec3(0.5f)) * toMap_);
}

}  // namespace gswarm::live
