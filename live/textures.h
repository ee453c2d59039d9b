#pragma once
#include <map>
#include <memory>

#include "core/base/float_picture.h"

namespace gswarm::live {

/// The largest side of a picture on a surface; what is larger is made smaller first.
inline constexpr int largestTexture = 2048;

/// Pictures on surfaces as the driver has them, with smaller ones for what is far. Belongs to the context that is current when one is
/// made.
class Textures {
  public:
    Textures() = default;
    ~Textures();
    Textures(const Textures&) = delete;
    Textures& operator=(const Textures&) = delete;

    /// Binds a picture, or plain white for none, to a texture unit.
    void bind(const std::shared_ptr<const FloatPicture>& picture, int unit);
    /// Lets go of the pictures that nobody has any more.
    void forgetUnused();

  private:
    struct Kept {
        std::weak_ptr<const FloatPicture> picture;
        unsigned texture = 0;
    };
    std::map<const FloatPicture*, Kept> kept_;
    unsigned white_ = 0;
};

}  // namespace gswarm::live
