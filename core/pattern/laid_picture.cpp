#include "core/pattern/laid_picture.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/parallel.h"

namespace gswarm {
namespace {

constexpr int mostPictures = 256;
constexpr std::size_t mostBytes = std::size_t{512} << 20;

std::uint64_t keyOf(const char* what, std::uint64_t picture, PictureChannel channel, int bits = 0) {
    ContentHash key;
    key.add(what);
    key.add(picture);
    key.add(static_cast<std::uint64_t>(channel));
    key.add(static_cast<std::uint64_t>(bits));
    return key.value();
}

/// What is read of a picture: its colours as they are, or one number of each pixel, kept by what it was made from.
template <class V>
auto channelIn(const AskedMedia& asked, PictureChannel channel, const RailSource& source) {
    if constexpr (std::is_same_v<V, float>)
        return source.keptAs<Pixels<float>>(keyOf("picture channel", asked.key, channel), [&] {
            return asked.frame()->with([&](const auto& pixels) {
                const auto across = static_cast<std::size_t>(pixels.width), down = static_cast<std::size_t>(pixels.height);
                Pixels<float> numbers{pixels.width, pixels.height, std::vector<float>(across * down)};
                forRanges(down, 16, [&](std::size_t begin, std::size_t end) {
                    for (std::size_t y = begin; y < end; ++y)
                        for (std::size_t x = 0; x < across; ++x)
                            numbers.pixels[y * across + x] = channelOf(pixels.at(static_cast<int>(x), static_cast<int>(y)), channel);
                });
                return numbers;
            });
        });
    else
        return asked.frame();
}

}  // namespace

template <class V>
bool ReadPictures<V>::add(double frame, const RailSource& source) {
    const AskedMedia asked = source.media(reading_.media, frame);
    One one{};
    one.picture = channelIn<V>(asked, reading_.channel, source);
    one.picture->with([&](const auto& pixels) {
        if (reading_.read == PictureRead::average) {
            using Quick = QuickSums<V>;
            const int steps = Quick::stepsFor(pixels.width, pixels.height, 2 * half().width, 2 * half().height);
            if (steps > 0)
                one.quick =
                    source.keptAs<Quick>(keyOf("quick sums", asked.key, reading_.channel, steps), [&] { return Quick::of(pixels, steps); });
            if (!one.quick || one.quick->empty()) {
                one.quick = nullptr;
                one.sums = source.keptAs<PictureSums<V>>(keyOf("picture sums", asked.key, reading_.channel),
                                                         [&] { return PictureSums<V>(pixels); });
            }
        }
        proportion_ = static_cast<float>(pixels.width) / static_cast<float>(pixels.height);
    });
    pictures_.push_back(std::move(one));
    return asked.moves;
}

template <class V>
ReadPictures<V>::ReadPictures(const PictureReading& reading, const RailSource& source) : reading_(reading) {
    if (!reading.media) throw Error("Choose the picture.");
    first_ = source.earliest == source.latest ? source.moment.frame : std::floor(source.earliest);
    if (!add(first_, source) || source.earliest == source.latest) return;
    const double span = std::ceil(source.latest) - first_;
    const One& one = pictures_.front();
    const auto each = static_cast<double>(one.picture->bytes() + (one.sums ? one.sums->bytes() : 0) + (one.quick ? one.quick->bytes() : 0));
    const double fit = std::clamp(static_cast<double>(mostBytes) / each, 1.0, double(mostPictures));
    step_ = std::max(1.0, std::ceil((span + 1) / fit));
    for (double frame = first_ + step_; frame < first_ + span + step_; frame += step_) add(frame, source);
}

template <class V>
auto ReadPictures<V>::oneAt(double frame) const -> const One& {
    if (pictures_.size() == 1) return pictures_.front();
    return pictures_[static_cast<std::size_t>(std::clamp(std::floor((frame - first_) / step_ + 0.5), 0.0, pictures_.size() - 1.0))];
}

template <class V>
void ReadPictures<V>::readAll(const One& one, const PicturePlaces& places) const {
    if (reading_.read == PictureRead::average)
        return one.quick ? readMeans(*one.quick, half(), places) : readMeans(*one.sums, half(), places);
    one.picture->with([&](const auto& pixels) {
        if (reading_.read == PictureRead::smooth) return readSmooth(pixels, places);
        readNearest(pixels, places);
    });
}

template <class V>
void ReadPictures<V>::readOne(const One& one, const PicturePlaces& places, int i) const {
    if (reading_.read == PictureRead::average)
        return one.quick ? readMeansOneByOne(*one.quick, half(), places, i, i + 1) : readMeansOneByOne(*one.sums, half(), places, i, i + 1);
    one.picture->with([&](const auto& pixels) {
        if (reading_.read == PictureRead::smooth) return readSmoothOneByOne(pixels, places, i, i + 1);
        readNearestOneByOne(pixels, places, i, i + 1);
    });
}

template <class V>
void ReadPictures<V>::read(const float* u, const float* v, int count, double frame, const LaneNumber& offset, float* const* out) const {
    const PicturePlaces places{u, v, count, reading_.edges, out};
    if (!offset.column || pictures_.size() == 1) return readAll(oneAt(frame + double(offset.value)), places);
    for (int i = 0; i < count; ++i) readOne(oneAt(frame + double(offset.column[i])), places, i);
}

template class ReadPictures<float>;
template class ReadPictures<glm::vec4>;

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
