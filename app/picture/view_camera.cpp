#include "app/picture/view_camera.h"

#include <algorithm>
#include <cmath>

namespace {

constexpr float steepest = 1.55f;

float tangent(const ViewCamera& view, float aspect) { return 18.0f / view.focalLength / aspect; }

struct Axes {
    glm::vec3 right, up, forward;
};
Axes axesOf(const ViewCamera& view) {
    const glm::vec3 back(std::cos(view.height) * std::sin(view.around), std::sin(view.height),
                         std::cos(view.height) * std::cos(view.around));
    const glm::vec3 right = glm::normalize(glm::cross(glm::vec3(0, 1, 0), back));
    return {right, glm::cross(back, right), -back};
}

}  // namespace

gswarm::Camera ViewCamera::camera() const {
    gswarm::Camera camera{};
    camera.on = true;
    camera.position = target - axesOf(*this).forward * distance;
    camera.target = target;
    camera.focalLength = focalLength;
    camera.projection = parallel ? gswarm::Projection::parallel : gswarm::Projection::perspective;
    camera.width = 36 / focalLength * distance;
    camera.nearCut = nearCut;
    camera.farCut = farCut;
    return camera;
}

glm::mat4 ViewCamera::matrix(float aspect) const { return gswarm::clipMatrix(camera(), aspect); }

void ViewCamera::turn(QPointF pixels) {
    around -= static_cast<float>(pixels.x()) * 0.008f;
    height = std::clamp(height + static_cast<float>(pixels.y()) * 0.008f, -steepest, steepest);
}

void ViewCamera::move(QPointF pixels, QSizeF viewport) {
    const Axes a = axesOf(*this);
    const float perPixel = metresPerPixel(target, viewport);
    target += (a.up * static_cast<float>(pixels.y()) - a.right * static_cast<float>(pixels.x())) * perPixel;
}

void ViewCamera::zoom(float factor, QPointF toward, float aspect) {
    const Axes a = axesOf(*this);
    const float half = tangent(*this, aspect) * distance;
    const glm::vec3 offset = a.right * (static_cast<float>(toward.x()) * half * aspect) + a.up * (static_cast<float>(toward.y()) * half);
    const float next = std::clamp(distance * factor, 0.02f, 1e5f);
    target += offset * (1 - next / distance);
    distance = next;
}

void ViewCamera::show(const gswarm::Bounds& bounds, float aspect) {
    if (bounds.empty()) return;
    target = bounds.centre();
    const float radius = std::max(glm::length(bounds.size()) * 0.5f, 0.05f);
    distance = radius / std::sin(std::atan(tangent(*this, aspect) * std::min(1.0f, aspect))) * 1.05f;
}

ViewCamera ViewCamera::from(const gswarm::Camera& camera) {
    ViewCamera view;
    const glm::vec3 back = camera.position - camera.target;
    view.target = camera.target;
    view.distance = std::max(glm::length(back), 0.02f);
    view.height = std::clamp(std::asin(std::clamp(back.y / view.distance, -1.0f, 1.0f)), -steepest, steepest);
    view.around = std::atan2(back.x, back.z);
    view.parallel = camera.projection == gswarm::Projection::parallel;
    view.focalLength = view.parallel ? 36 * view.distance / std::max(camera.width, 1e-4f) : camera.focalLength;
    view.nearCut = camera.nearCut;
    view.farCut = camera.farCut;
    return view;
}

std::optional<QPointF> ViewCamera::project(const glm::vec3& world, QSizeF viewport) const {
    const glm::vec4 clip = matrix(static_cast<float>(viewport.width() / viewport.height())) * glm::vec4(world, 1);
    if (clip.w <= 1e-4f) return std::nullopt;
    return QPointF((clip.x / clip.w * 0.5 + 0.5) * viewport.width(), (0.5 - clip.y / clip.w * 0.5) * viewport.height());
}

ViewCamera::Ray ViewCamera::ray(QPointF pixel, QSizeF viewport) const {
    const float aspect = static_cast<float>(viewport.width() / viewport.height()), half = tangent(*this, aspect);
    const float x = static_cast<float>(pixel.x() / viewport.width() * 2 - 1), y = static_cast<float>(1 - pixel.y() / viewport.height() * 2);
    const Axes a = axesOf(*this);
    const glm::vec3 aside = a.right * (x * half * aspect) + a.up * (y * half), eye = camera().position;
    if (parallel) return {eye + aside * distance, a.forward};
    return {eye, glm::normalize(a.forward + aside)};
}

float ViewCamera::metresPerPixel(const glm::vec3& world, QSizeF viewport) const {
    const float aspect = static_cast<float>(viewport.width() / viewport.height());
    const float depth = parallel ? distance : std::max(glm::dot(world - camera().position, axesOf(*this).forward), 0.01f);
    return 2 * tangent(*this, aspect) * depth / static_cast<float>(viewport.height());
}
