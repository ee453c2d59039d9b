#pragma once
#include <cmath>
#include <memory>
#include <vector>

#include "core/base/lane_number.h"
#include "core/media/media_frame.h"
#include "core/pattern/picture_lanes.h"
#include "core/scene/describe.h"
#include "core/scene/rail_source.h"
#include "core/shape/mesh.h"

/// A picture that lies in space, and a number or a colour that is read of it: for patterns and zones.
namespace gswarm {

enum class PictureRead { smooth, nearest, average };
enum class PictureChannel { brightness, red, green, blue, alpha, hue, saturation, colour };

/// How media are read: the settings that patterns and zones share.
struct PictureReading {
    ObjectId media;
    PictureChannel channel;
    PictureRead read;
    int columns, rows;
    PictureEdges edges;
};

/// Whether it can't be told of each pixel beforehand: the mean hue is that of the mean colour.
inline bool isOfWholeColours(PictureChannel channel) {
    return channel == PictureChannel::colour || channel == PictureChannel::hue || channel == PictureChannel::saturation;
}

/// Declares the settings; a zone offers no colour.
template <class T, class K>
void describeReading(Describe<T, K>& d, bool colour) {
    std::vector<Choice> channels{{"brightness", "Brightness"}, {"red", "Red"}, {"green", "Green"},          {"blue", "Blue"},
                                 {"alpha", "Alpha"},           {"hue", "Hue"}, {"saturation", "Saturation"}};
    if (colour) channels.push_back({"colour", "Colour"});
    d.reference("media", &T::media, {ObjectType::media}, "The picture, the numbered pictures, the clip or the camera").label("Picture");
    d.choice("channel", static_cast<PictureChannel T::*>(&T::channel), std::move(channels),
             "What is read of it. Brightness is that of linear light; hue goes once around from red to red");
    d.choice("read", static_cast<PictureRead T::*>(&T::read), {{"smooth", "Smooth"}, {"nearest", "Nearest pixel"}, {"average", "Average"}},
             "Smooth between pixels, one pixel as it is, or the exact average over each instance's own share of the picture");
    d.whole("columns", &T::columns, 10, {1, 100}, "Shares from side to side, of which each instance reads the one around it")
        .hard(1, 100000)
        .only("read", {"average"});
    d.whole("rows", &T::rows, 10, {1, 100}, "Shares from top to bottom").hard(1, 100000).only("read", {"average"});
    d.choice("edges", static_cast<PictureEdges T::*>(&T::edges),
             {{"hold", "Held"}, {"repeat", "Repeated"}, {"mirror", "Mirrored"}, {"nothing", "Nothing is there"}},
             "What lies beyond its edges")
        .label("Edges");
}

/// Pictures ready to be read: one, or one for every whole frame at which some instance has its own time. What is read is a number of
/// V = float, or linear light with alpha of V = glm::vec4.
template <class V>
class ReadPictures {
  public:
    /// Asks for them. As many frames as fit into half a gigabyte are told apart, at most 256; of more, neighbours are one. Throws Error
    /// where there is no picture.
    ReadPictures(const PictureReading& reading, const RailSource& source);

    /// At places of the picture, each at its own frame: a column of numbers, or three of red, green and blue, aligned to 64 bytes.
    /// `count` is a multiple of 16.
    void read(const float* u, const float* v, int count, double frame, const LaneNumber& offset, float* const* out) const;
    /// Width divided by height.
    float proportion() const { return proportion_; }

  private:
    using Picture = std::conditional_t<std::is_same_v<V, float>, Pixels<float>, MediaFrame>;
    struct One {
        std::shared_ptr<const Picture> picture;
        std::shared_ptr<const QuickSums<V>> quick;   ///< where averages are read of small shares
        std::shared_ptr<const PictureSums<V>> sums;  ///< and of others
    };
    /// Whether other frames show something else.
    bool add(double frame, const RailSource& source);
    const One& oneAt(double frame) const;
    void readAll(const One& one, const PicturePlaces& places) const;
    void readOne(const One& one, const PicturePlaces& places, int i) const;
    HalfShare half() const { return {0.5f / static_cast<float>(reading_.columns), 0.5f / static_cast<float>(reading_.rows)}; }

    PictureReading reading_;
    double first_ = 0, step_ = 1;
    float proportion_ = 1;
    std::vector<One> pictures_;
};

/// One number of a colour; for `colour` its brightness.
float channelOf(const glm::vec4& colour, PictureChannel channel);

extern template class ReadPictures<float>;
extern template class ReadPictures<glm::vec4>;

}  // namespace gswarm
