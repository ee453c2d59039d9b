#pragma once
extern "C" {
#include <libavcodec/codec_par.h>
#include <libavutil/frame.h>
#include <libswscale/swscale.h>
}
#include <cstdint>
#include <memory>
#include <vector>

namespace gswarm {

/// Turns decoded pictures into red, green, blue and alpha of one size, upright, with square pixels.
class UprightPictures {
  public:
    /// `turn` is a matrix as libavutil/display.h has it, or null.
    UprightPictures(const AVCodecParameters& what, AVRational pixelShape, const std::uint8_t* turn);

    int width() const { return quarters_ % 2 ? wide_.second : wide_.first; }
    int height() const { return quarters_ % 2 ? wide_.first : wide_.second; }
    /// 16 bits a number.
    bool deep() const { return deep_; }
    /// To width() × height() pixels. Throws Error where the picture is of a kind that can't be.
    void take(const AVFrame& frame, std::uint8_t* to);

  private:
    struct Releases {
        void operator()(SwsContext* one) const { sws_freeContext(one); }
    };

    std::pair<int, int> wide_;  ///< the size with square pixels, before turning
    int quarters_ = 0;          ///< clockwise
    bool deep_ = false;
    std::unique_ptr<SwsContext, Releases> scaler_;
    std::vector<std::uint8_t> lying_;  ///< before turning
};

}  // namespace gswarm
