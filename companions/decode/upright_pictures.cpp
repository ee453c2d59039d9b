#include "companions/decode/upright_pictures.h"

extern "C" {
#include <libavutil/display.h>
#include <libavutil/pixdesc.h>
}
#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/base/error.h"

namespace gswarm {
namespace {

/// Quarters of a turn clockwise.
int quartersOf(const std::uint8_t* turn) {
    if (!turn) return 0;
    std::int32_t matrix[9];
    std::memcpy(matrix, turn, sizeof matrix);
    const double angle = av_display_rotation_get(matrix);  // against the clock
    return std::isfinite(angle) ? ((static_cast<int>(std::lround(-angle / 90)) % 4) + 4) % 4 : 0;
}

template <class Pixel>
void turned(const Pixel* from, int width, int height, int quarters, Pixel* to) {
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const int column = quarters == 1 ? height - 1 - y : quarters == 2 ? width - 1 - x : y;
            const int row = quarters == 1 ? x : quarters == 2 ? height - 1 - y : width - 1 - x;
            const int across = quarters == 2 ? width : height;
            to[static_cast<std::size_t>(row) * static_cast<std::size_t>(across) + static_cast<std::size_t>(column)] = *from++;
        }
}

/// A file may have numbers that are none of an enumeration's.
template <class Enumeration>
int asFileHasIt(const Enumeration& value) {
    int number = 0;
    static_assert(sizeof number == sizeof value);
    std::memcpy(&number, &value, sizeof number);
    return number;
}

}  // namespace

UprightPictures::UprightPictures(const AVCodecParameters& what, AVRational pixelShape, const std::uint8_t* turn)
    : wide_(what.width, what.height), quarters_(quartersOf(turn)) {
    // Beyond these a shape of pixels is a mistake in the file; pictures that are too wide are refused anyway.
    const double shape = pixelShape.num > 0 && pixelShape.den > 0 ? av_q2d(pixelShape) : 1;
    if (shape > 0.1 && shape < 10 && what.width < 1'000'000) wide_.first = std::max(1, static_cast<int>(std::lround(what.width * shape)));
    const AVPixFmtDescriptor* format = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(what.format));
    deep_ = format && format->comp[0].depth > 8;
}

void UprightPictures::take(const AVFrame& frame, std::uint8_t* to) {
    const int flags = SWS_BILINEAR | SWS_FULL_CHR_H_INT | SWS_ACCURATE_RND;
    const auto [width, height] = wide_;
    SwsContext* scaler = sws_getCachedContext(scaler_.release(), frame.width, frame.height, static_cast<AVPixelFormat>(frame.format), width,
                                              height, deep_ ? AV_PIX_FMT_RGBA64LE : AV_PIX_FMT_RGBA, flags, nullptr, nullptr, nullptr);
    scaler_.reset(scaler);
    if (!scaler) throw Error("has pictures of a kind that can't be shown; convert it to another kind");
    // High pictures are of BT.709 where nothing is said.
    const int told = asFileHasIt(frame.colorspace);
    const int space = told != AVCOL_SPC_UNSPECIFIED ? told : frame.height >= 720 ? SWS_CS_ITU709 : SWS_CS_ITU601;
    sws_setColorspaceDetails(scaler, sws_getCoefficients(space), asFileHasIt(frame.color_range) == AVCOL_RANGE_JPEG,
                             sws_getCoefficients(SWS_CS_ITU709), 1, 0, 1 << 16, 1 << 16);
    const std::size_t pixel = deep_ ? 8 : 4;
    if (quarters_) lying_.resize(pixel * static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
    std::uint8_t* planes[4] = {quarters_ ? lying_.data() : to};
    const int strides[4] = {static_cast<int>(pixel) * width};
    if (sws_scale(scaler, frame.data, frame.linesize, 0, frame.height, planes, strides) < 0)
        throw Error("has pictures of a kind that can't be shown; convert it to another kind");
    if (!quarters_) return;
    if (deep_)
        turned(reinterpret_cast<const std::uint64_t*>(lying_.data()), width, height, quarters_, reinterpret_cast<std::uint64_t*>(to));
    else
        turned(reinterpret_cast<const std::uint32_t*>(lying_.data()), width, height, quarters_, reinterpret_cast<std::uint32_t*>(to));
}

}  // namespace gswarm
