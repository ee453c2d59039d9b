#include "core/pattern/laid_picture.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"

namespace gswarm {
namespace {

constexpr int mostPictures = 256;
constexpr std::size_t mostBytes = std::size_t{512} << 20;

std::shared_ptr<const PictureSums> sumsOf(const std::shared_ptr<const MediaFrame>& frame, const RailSource& source) {
    ContentHash key;
    key.add("picture sums");
    key.add(frame->key);
    return source.keptAs<PictureSums>(key.value(), frame->pixels.size() * 32, [&] { return PictureSums(*frame); });
}

}  // namespace

ReadPictures::ReadPictures(const PictureReading& reading, const RailSource& source) : reading_(reading) {
    if (!reading.media) throw Error("Choose the picture.");
    const auto take = [&](double frame) {
        One one{source.media(reading.media, frame), nullptr};
        if (reading.read == PictureRead::average) one.sums = sumsOf(one.frame, source);
        pictures_.push_back(std::move(one));
    };
    first_ = source.moment.frame;
    if (source.earliest == source.latest) {
        take(first_);
    } else {
        first_ = std::floor(source.earliest);
        const double span = std::ceil(source.latest) - first_;
        take(first_);
        const double each = static_cast<double>(pictures_.front().frame->bytes()) * (reading.read == PictureRead::average ? 3 : 1);
        const double fit = std::clamp(static_cast<double>(mostBytes) / each, 1.0, double(mostPictures));
        step_ = std::max(1.0, std::ceil((span + 1) / fit));
        for (double frame = first_ + step_; frame < first_ + span + step_; frame += step_) take(frame);
    }
    proportion_ = static_cast<float>(pictures_.front().frame->width) / static_cast<float>(pictures_.front().frame->height);
}

glm::vec4 ReadPictures::at(float u, float v, double frame) const {
    std::size_t which = 0;
    if (pictures_.size() > 1)
        which = static_cast<std::size_t>(std::clamp(std::floor((frame - first_) / step_ + 0.5), 0.0, pictures_.size() - 1.0));
    const One& one = pictures_[which];
    if (!(std::abs(u) < 1e30f && std::abs(v) < 1e30f)) return glm::vec4(0);
    switch (reading_.read) {
        case PictureRead::smooth:
            return smoothPixel(*one.frame, u, v, reading_.edges);
        case PictureRead::nearest:
            return nearestPixel(*one.frame, u, v, reading_.edges);
        case PictureRead::average:
            break;
    }
    // A share lies where its middle does.
    const auto within = [&](float& place) {
        const float lap = std::floor(place);
        if (place >= 0 && place <= 1) return true;
        if (reading_.edges == PictureEdges::nothing) return false;
        if (reading_.edges == PictureEdges::repeat) place -= lap;
        if (reading_.edges == PictureEdges::hold) place = std::clamp(place, 0.0f, 1.0f);
        if (reading_.edges == PictureEdges::mirror) place = std::fmod(std::abs(lap), 2.0f) == 1 ? 1 - (place - lap) : place - lap;
        return true;
    };
    if (!within(u) || !within(v)) return glm::vec4(0);
    return one.sums->mean(u, v, 1 / static_cast<float>(reading_.columns), 1 / static_cast<float>(reading_.rows));
}

float channelOf(const glm::vec4& c, PictureChannel channel) {
    const float most = std::max({c.x, c.y, c.z}), range = most - std::min({c.x, c.y, c.z});
    switch (channel) {
        case PictureChannel::red:
            return c.x;
        case PictureChannel::green:
            return c.y;
        case PictureChannel::blue:
            return c.z;
        case PictureChannel::alpha:
            return c.w;
        case PictureChannel::hue: {
            if (!(range > 0)) return 0;
            const float sixth = most == c.x ? (c.y - c.z) / range : most == c.y ? 2 + (c.z - c.x) / range : 4 + (c.x - c.y) / range;
            return (sixth < 0 ? sixth + 6 : sixth) / 6;
        }
        case PictureChannel::saturation:
            return most > 0 ? range / most : 0;
        default:
            return 0.2126f * c.x + 0.7152f * c.y + 0.0722f * c.z;
    }
}

}  // namespace gswarm
