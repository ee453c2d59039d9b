#pragma once
#include <QOpenGLFunctions_3_3_Core>
#include <QSize>

#include "core/picture/after.h"

/// Where the live view draws what something comes after for: light and coverage in floats, and beside them the normal, the distance
/// and the number of what is seen. Lives with the context that is current.
class LayerBuffer : protected QOpenGLFunctions_3_3_Core {
  public:
    LayerBuffer();
    ~LayerBuffer();

    /// Drawn into from now on, empty. False where the driver has no such buffers.
    bool bind(QSize pixels);
    /// What was drawn, rows from the top.
    gswarm::LinearPicture read();

  private:
    void release();

    QSize pixels_;
    unsigned frame_ = 0, light_ = 0, guide_ = 0, depth_ = 0;
};
