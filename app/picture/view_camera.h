#pragma once
#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>
#include <optional>
#include <QPointF>
#include <QSizeF>

#include "core/picture/view.h"
#include "core/shape/mesh.h"

/// The camera of the picture on screen: part of the session, not of the project.
struct ViewCamera {
    glm::vec3 target{0};
    float distance = 14, height = 0.5f, around = 0.6f;  ///< radians above the floor and around
    float focalLength = 45;
    /// Rays side by side: what a perspective view sees at the distance of the target is seen at every one.
    bool parallel = false;
    float nearCut = 0, farCut = 0;  ///< metres along the way of looking; 0 for none

    bool operator==(const ViewCamera&) const = default;
    gswarm::Camera camera() const;
    glm::mat4 matrix(float aspect) const;  ///< world → clip

    void turn(QPointF pixels);
    void move(QPointF pixels, QSizeF viewport);
    /// Nearer for a factor below 1; the point under the pointer (−1 … 1 each way) stays where it is.
    void zoom(float factor, QPointF toward, float aspect);
    void show(const gswarm::Bounds& bounds, float aspect);
    static ViewCamera from(const gswarm::Camera& camera);

    /// Pixel in the viewport; empty behind the camera.
    std::optional<QPointF> project(const glm::vec3& world, QSizeF viewport) const;
    /// The ray through a pixel; its direction is unit.
    struct Ray {
        glm::vec3 from, direction;
    };
    Ray ray(QPointF pixel, QSizeF viewport) const;
    /// Metres that one pixel covers at a place.
    float metresPerPixel(const glm::vec3& world, QSizeF viewport) const;
};
