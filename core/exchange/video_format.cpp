#include "core/exchange/video_format.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <numeric>

#include "core/scene/object_kinds.h"

namespace gswarm {

bool hasAlpha(VideoCodec codec) { return codec == VideoCodec::proRes4444 || codec == VideoCodec::vp9 || codec == VideoCodec::gif; }
bool hasSound(VideoCodec codec) { return codec != VideoCodec::gif; }

std::pair<int, int> fittedTo(VideoCodec codec, int width, int height) {
    const bool halvesWidth = codec != VideoCodec::gif && codec != VideoCodec::proRes4444,
               halvesHeight = halvesWidth && codec != VideoCodec::proRes422;
    const auto even = [](int size) { return std::max(2, size & ~1); };
    return {halvesWidth ? even(width) : width, halvesHeight ? even(height) : height};
}

std::pair<int, int> rateFraction(const std::string& text) {
    int numerator = 0, denominator = 0;
    if (std::sscanf(text.c_str(), "%d/%d", &numerator, &denominator) == 2 && numerator > 0 && denominator > 0)
        return {numerator, denominator};
    constexpr int finest = 1'000'000;
    const double rate = std::clamp(parseRate(text), 1.0 / finest, 2000.0);
    const int parts = static_cast<int>(std::lround(rate * finest)), common = std::gcd(parts, finest);
    return {parts / common, finest / common};
}

}  // namespace gswarm
