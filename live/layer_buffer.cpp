#include "live/layer_buffer.h"

#include <epoxy/gl.h>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/parallel.h"
#include "core/picture/pixel_lanes.h"

namespace gswarm::live {
namespace {

/// From the two numbers of the octahedral map that the shader writes (Cigolle et al. 2014).
glm::vec3 normalFrom(float x, float y) {
    glm::vec3 n(x, y, 1 - std::abs(x) - std::abs(y));
    if (n.z < 0) n = {(1 - std::abs(y)) * (x < 0 ? -1.0f : 1.0f), (1 - std::abs(x)) * (y < 0 ? -1.0f : 1.0f), n.z};
    return glm::normalize(n);
}

}  // namespace

void LayerBuffer::release() {
    glDeleteFramebuffers(1, &frame_);
    for (const unsigned* part : {&light_, &beside_, &depth_}) glDeleteRenderbuffers(1, part);
}

bool LayerBuffer::bind(int width, int height, Guide guide) {
    if (width != width_ || height != height_ || guide != guide_) {
        release();
        width_ = width, height_ = height, guide_ = guide;
        glGenFramebuffers(1, &frame_);
        glBindFramebuffer(GL_FRAMEBUFFER, frame_);
        const auto add = [&](unsigned& part, GLenum format, GLenum place) {
            glGenRenderbuffers(1, &part);
            glBindRenderbuffer(GL_RENDERBUFFER, part);
            glRenderbufferStorage(GL_RENDERBUFFER, format, width, height);
            glFramebufferRenderbuffer(GL_FRAMEBUFFER, place, GL_RENDERBUFFER, part);
        };
        add(light_, GL_RGBA16F, GL_COLOR_ATTACHMENT0);
        if (guide != Guide::none) add(beside_, guide == Guide::whole ? GL_RGBA32F : GL_R32F, GL_COLOR_ATTACHMENT1);
        add(depth_, GL_DEPTH_COMPONENT24, GL_DEPTH_ATTACHMENT);
    }
    glBindFramebuffer(GL_FRAMEBUFFER, frame_);
    const GLenum both[] = {GL_COLOR_ATTACHMENT0, GL_COLOR_ATTACHMENT1};
    glDrawBuffers(guide == Guide::none ? 1 : 2, both);
    if (glCheckFramebufferStatus(GL_FRAMEBUFFER) != GL_FRAMEBUFFER_COMPLETE) return false;
    const float nothing[4] = {};
    glClearBufferfv(GL_COLOR, 0, nothing);
    if (guide != Guide::none) glClearBufferfv(GL_COLOR, 1, nothing);
    glClear(GL_DEPTH_BUFFER_BIT);
    return true;
}

void LayerBuffer::read(LinearPicture& picture) {
    const auto width = static_cast<std::size_t>(width_), height = static_cast<std::size_t>(height_), count = width * height;
    lightRead_.resize(4 * count);
    glReadBuffer(GL_COLOR_ATTACHMENT0);
    glReadPixels(0, 0, width_, height_, GL_RGBA, GL_HALF_FLOAT, lightRead_.data());
    const std::size_t numbers = guide_ == Guide::whole ? 4 : guide_ == Guide::distance ? 1 : 0;
    guideRead_.resize(numbers * count);
    if (numbers > 0) {
        glReadBuffer(GL_COLOR_ATTACHMENT1);
        glReadPixels(0, 0, width_, height_, numbers == 4 ? GL_RGBA : GL_RED, GL_FLOAT, guideRead_.data());
    }
    picture.width = width_, picture.height = height_;
    picture.light.resize(count), picture.coverage.resize(count), picture.depth.resize(numbers > 0 ? count : 0);
    const std::size_t whole = guide_ == Guide::whole ? count : 0;
    picture.normal.resize(whole), picture.id.resize(whole);
    forRanges(height, 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y) {
            const std::size_t from = 4 * (height - 1 - y) * width, to = y * width;
            unpackHalves(&lightRead_[from], {&picture.light[to], width}, &picture.coverage[to]);
            if (guide_ == Guide::distance) std::copy_n(&guideRead_[from / 4], width, &picture.depth[to]);
            if (guide_ != Guide::whole) continue;
            const float* guide = &guideRead_[from];
            for (std::size_t x = 0; x < width; ++x) {
                picture.depth[to + x] = guide[4 * x + 2];
                picture.normal[to + x] = normalFrom(guide[4 * x], guide[4 * x + 1]);
                picture.id[to + x] = static_cast<std::uint32_t>(guide[4 * x + 3]);
            }
        }
    });
}

}  // namespace gswarm::live
