#include "live/textures.h"

#include <epoxy/gl.h>

#include <algorithm>

namespace gswarm::live {
namespace {

unsigned uploaded(const FloatPicture& picture) {
    unsigned texture = 0;
    glGenTextures(1, &texture);
    glBindTexture(GL_TEXTURE_2D, texture);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR_MIPMAP_LINEAR);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAG_FILTER, GL_LINEAR);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_S, GL_REPEAT);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_T, GL_REPEAT);
    glPixelStorei(GL_UNPACK_ALIGNMENT, 4);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_RGB16F, picture.width, picture.height, 0, GL_RGB, GL_FLOAT, picture.light.data());
    glGenerateMipmap(GL_TEXTURE_2D);
    return texture;
}

}  // namespace

Textures::~Textures() {
    for (const auto& entry : kept_) glDeleteTextures(1, &entry.second.texture);
    glDeleteTextures(1, &white_);
}

void Textures::bind(const std::shared_ptr<const FloatPicture>& picture, int unit) {
    glActiveTexture(static_cast<GLenum>(GL_TEXTURE0 + unit));
    unsigned& texture = picture ? kept_[picture.get()].texture : white_;
    if (picture && texture && kept_[picture.get()].picture.lock() != picture) {
        glDeleteTextures(1, &texture);
        texture = 0;
    }
    if (!texture && !picture) texture = uploaded({1, 1, {glm::vec3(1)}});
    if (!texture) {
        const int longest = std::max(picture->width, picture->height);
        texture = uploaded(reduced(*picture, (longest + largestTexture - 1) / largestTexture));
        kept_[picture.get()].picture = picture;
    }
    glBindTexture(GL_TEXTURE_2D, texture);
}

void Textures::forgetUnused() {
    std::erase_if(kept_, [](const auto& entry) {
        if (!entry.second.picture.expired()) return false;
        glDeleteTextures(1, &entry.second.texture);
        return true;
    });
}

}  // namespace gswarm::live
