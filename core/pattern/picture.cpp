// What a picture, numbered pictures or a camera show where instances stand.
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/precise.h"
#include "core/pattern/laid_picture.h"
#include "core/pattern/pattern_kind.h"

namespace gswarm {
namespace {

enum class PictureOver { swarm, cover, placed };

struct PicturePattern : PictureReading {
    Axis along;
    PictureOver over;
    glm::vec3 centre;
    float width, height, angle;
    std::shared_ptr<const ReadPictures> pictures;
};

/// Where the picture lies: its middle, and its sides as metres to the right and up.
struct Laid {
    glm::vec3 centre, right, up;
};

/// To the right and up as one looks along an axis: along X and Y from its positive end, along Y from above.
std::pair<glm::vec3, glm::vec3> sidesOf(Axis along) {
    if (along == Axis::x) return {{0, 0, -1}, {0, 1, 0}};
    if (along == Axis::y) return {{1, 0, 0}, {0, 0, -1}};
    return {{1, 0, 0}, {0, 1, 0}};
}

Laid laidOf(const PicturePattern& p, const Bounds& range) {
    const auto [right, up] = sidesOf(p.along);
    glm::vec3 centre = p.centre;
    float width = p.width, height = p.height > 0 ? p.height : p.width / p.pictures->proportion();
    if (p.over != PictureOver::placed && !range.empty()) {
        centre = range.centre();
        width = std::abs(glm::dot(range.size(), right));
        height = std::abs(glm::dot(range.size(), up));
        if (p.over == PictureOver::cover) {
            width = std::max(width, height * p.pictures->proportion());
            height = width / p.pictures->proportion();
        }
    }
    const auto turn = precise::sineCosine(p.angle);
    const auto c = static_cast<float>(turn.cosine), s = static_cast<float>(turn.sine);
    return {centre, (right * c + up * s) * width, (up * c - right * s) * height};
}

/// A share of a side: 0.5 in the middle, 0 and 1 at its ends. A side without length has but a middle.
float shareOf(const glm::vec3& away, const glm::vec3& side) {
    const float square = glm::dot(side, side);
    return square > 0 ? 0.5f + glm::dot(away, side) / square : 0.5f;
}

void fill(const PicturePattern& p, const PatternInput& in, Columns3& out) {
    const Laid laid = laidOf(p, in.range);
    const bool colour = p.channel == PictureChannel::colour;
    for (int i = 0; i < paddedCount(in.block); ++i) {
        const glm::vec3 away = glm::vec3(in.place.x[i], in.place.y[i], in.place.z[i]) - laid.centre;
        const float offset = in.offset.column ? in.offset.column[i] : in.offset.value;
        const glm::vec4 read = p.pictures->at(shareOf(away, laid.right), shareOf(away, laid.up), in.moment.frame + double(offset));
        if (!colour) {
            out.x[i] = channelOf(read, p.channel);
            continue;
        }
        out.x[i] = read.x, out.y[i] = read.y, out.z[i] = read.z;
    }
}

void prepare(PicturePattern& p, const RailSource& source) { p.pictures = std::make_shared<const ReadPictures>(p, source); }

PatternKind pictureKind() {
    DescribePattern<PicturePattern> d("picture", "Picture", "What a picture, numbered pictures or a camera show where instances stand");
    d.found("image photo map texture video clip mosaic displacement depth tint media");
    describeReading(d, true);
    d.choice("along", &PicturePattern::along, {{"x", "Along X"}, {"y", "Along Y, from above"}, {"z", "Along Z"}},
             "Which way it is laid onto the swarm")
        .label("Laid")
        .standard("z");
    d.choice("over", &PicturePattern::over,
             {{"swarm", "Stretched over the swarm"}, {"cover", "Over the swarm, as it is"}, {"placed", "A place of its own"}},
             "Over all homes, with its sides made to fit or in its own proportions; or where it is put in the swarm")
        .label("Covers");
    d.length("centre", &PicturePattern::centre, {0, 0, 0}, {-10, 10}, "Its middle, in the swarm").only("over", {"placed"});
    d.length("width", &PicturePattern::width, 6, {0.5, 20}, "From side to side").hard(1e-3, 1e6).only("over", {"placed"});
    d.length("height", &PicturePattern::height, 0, {0, 20}, "From top to bottom; 0 keeps its proportions")
        .hard(0, 1e6)
        .only("over", {"placed"});
    d.angle("angle", &PicturePattern::angle, 0, {-180, 180}, "Turns it about its middle");
    PatternKind kind = preparing(
        makes(
            d, PatternRange::zeroToOne, +[](const PicturePattern& p) { return p.channel == PictureChannel::colour ? 3 : 1; }, fill),
        prepare);
    return readingRange(
        kind, +[](const PicturePattern& p) { return p.over != PictureOver::placed; });
}

}  // namespace

const PatternKind picturePattern = pictureKind();

}  // namespace gswarm
