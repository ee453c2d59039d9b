#include "app/picture/layer_buffer.h"

#include <cmath>
#include <glm/geometric.hpp>

using namespace gswarm;

namespace {

/// From the two numbers of the octahedral map that the shader writes (Cigolle et al. 2014).
glm::vec3 normalFrom(float x, float y) {
    glm::vec3 n(x, y, 1 - std::abs(x) - std::abs(y));
    if (n.z < 0) n = {(1 - std::abs(y)) * (x < 0 ? -1.0f : 1.0f), (1 - std::abs(x)) * (y < 0 ? -1.0f : 1.0f), n.z};
    return glm::normalize(n);
}

}  // namespace

LayerBuffer::LayerBuffer() { initializeOpenGLFunctions(); }
LayerBuffer::~LayerBuffer() { release(); }

void LayerBuffer::release() {
    glDeleteFramebuffers(1, &frame_);
    glDeleteTextures(1, &light_);
    glDeleteTextures(1, &guide_);
    glDeleteRenderbuffers(1, &depth_);
}

bool LayerBuffer::bind(QSize pixels) {
    if (pixels != pixels_) {
        release();
        pixels_ = pixels;
        const auto texture = [&](unsigned& name, GLenum format) {
            glGenTextures(1, &name);
            glBindTexture(GL_TEXTURE_2D, name);
            glTexImage2D(GL_TEXTURE_2D, 0, static_cast<GLint>(format), pixels.width(), pixels.height(), 0, GL_RGBA, GL_FLOAT, nullptr);
            glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_NEAREST);
        };
        texture(light_, GL_RGBA16F);
        texture(guide_, GL_RGBA32F);
        glGenRenderbuffers(1, &depth_);
        glBindRenderbuffer(GL_RENDERBUFFER, depth_);
        glRenderbufferStorage(GL_RENDERBUFFER, GL_DEPTH_COMPONENT24, pixels.width(), pixels.height());
        glGenFramebuffers(1, &frame_);
        glBindFramebuffer(GL_FRAMEBUFFER, frame_);
        glFramebufferTexture2D(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_TEXTURE_2D, light_, 0);
        glFramebufferTexture2D(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT1, GL_TEXTURE_2D, guide_, 0);
        glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_RENDERBUFFER, depth_);
    }
    glBindFramebuffer(GL_FRAMEBUFFER, frame_);
    const GLenum both[] = {GL_COLOR_ATTACHMENT0, GL_COLOR_ATTACHMENT1};
    glDrawBuffers(2, both);
    if (glCheckFramebufferStatus(GL_FRAMEBUFFER) != GL_FRAMEBUFFER_COMPLETE) return false;
    const float nothing[4] = {};
    glClearBufferfv(GL_COLOR, 0, nothing);
    glClearBufferfv(GL_COLOR, 1, nothing);
    glClear(GL_DEPTH_BUFFER_BIT);
    return true;
}

LinearPicture LayerBuffer::read() {
    const auto width = static_cast<std::size_t>(pixels_.width()), height = static_cast<std::size_t>(pixels_.height());
    std::vector<float> light(4 * width * height), guide(4 * width * height);
    for (const auto& [from, to] : {std::pair{GL_COLOR_ATTACHMENT0, &light}, {GL_COLOR_ATTACHMENT1, &guide}}) {
        glReadBuffer(static_cast<GLenum>(from));
        glReadPixels(0, 0, pixels_.width(), pixels_.height(), GL_RGBA, GL_FLOAT, to->data());
    }
    LinearPicture picture{pixels_.width(), pixels_.height(), {}, {}, {}, {}, {}};
    const std::size_t count = width * height;
    picture.light.resize(count), picture.coverage.resize(count), picture.depth.resize(count), picture.normal.resize(count),
        picture.id.resize(count);
    for (std::size_t y = 0; y < height; ++y)
        for (std::size_t x = 0; x < width; ++x) {
            const std::size_t from = 4 * ((height - 1 - y) * width + x), to = y * width + x;
            picture.light[to] = {light[from], light[from + 1], light[from + 2]};
            picture.coverage[to] = std::min(1.0f, light[from + 3]);
            picture.normal[to] = normalFrom(guide[from], guide[from + 1]);
            picture.depth[to] = guide[from + 2];
            picture.id[to] = static_cast<std::uint32_t>(guide[from + 3]);
        }
    return picture;
}
