#pragma once
#include <filesystem>
#include <QRect>
#include <QSize>

#include "app/document/evaluation.h"
#include "app/picture/view_camera.h"
#include "live/renderer.h"

/// What one picture shows.
struct ViewRequest {
    std::shared_ptr<const Evaluated> evaluated;
    gswarm::Setting setting;  ///< light, background, exposure; the camera is the view's
    ViewCamera camera;
    QSize pixels{16, 16};
    bool fine = false;     ///< gives way to any newer request
    bool weights = false;  ///< colour by the weights of evaluated->weightsOf
    bool ground = true;
    gswarm::live::Steps steps{};
    std::filesystem::path folder;    ///< the project's
    gswarm::Store* store = nullptr;  ///< where pictures are kept
};

/// Where one of the nine variations is drawn in a picture of that size.
QRect variationRect(int number, QSize whole);

/// Draws it; reads pictures first. A null image if `cancelled` became true in between.
QImage drawn(gswarm::live::Renderer& renderer, ViewRequest request, const std::atomic<bool>& cancelled);
