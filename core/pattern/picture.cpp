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
    std::shared_ptr<const ReadPictures<float>> numbers;
    std::shared_ptr<const ReadPictures<glm::vec4>> colours;  ///< in place of the numbers, of what is told of whole colours alone

    float proportion() const { return numbers ? numbers->proportion() : colours->proportion(); }
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
    float width = p.width, height = p.height > 0 ? p.height : p.width / p.proportion();
    if (p.over != PictureOver::placed && !range.empty()) {
        centre = range.centre();
        width = std::abs(glm::dot(range.size(), right));
        height = std::abs(glm::dot(range.size(), up));
        if (p.over == PictureOver::cover) {
            width = std::max(width, height * p.proportion());
            height = width / p.proportion();
        }
    }
    const auto turn = precise::sineCosine(p.angle);
    const auto c = static_cast<float>(turn.cosine), s = static_cast<float>(turn.sine);
    return {centre, (right * c + up * s) * width, (up * c - right * s) * height};
}

/// What a side is times, so that a dot product with it is a share of the side; a side without length has but a middle.
glm::vec3 perLength(const glm::vec3& side) {
    const float square = glm::dot(side, side);
    return square > 0 ? side / square : glm::vec3(0);
}

void fill(const PicturePattern& p, const PatternInput& in, Columns3& out) {
    const Laid laid = laidOf(p, in.range);
    const int count = paddedCount(in.block);
    alignas(64) Column u, v;
    const glm::vec3 right = perLength(laid.right), up = perLength(laid.up);
    for (int i = 0; i < count; ++i) {
        const float x = in.place.x[i] - laid.centre.x, y = in.place.y[i] - laid.centre.y, z = in.place.z[i] - laid.centre.z;
        u[i] = 0.5f + (x * right.x + y * right.y + z * right.z);
        v[i] = 0.5f + (x * up.x + y * up.y + z * up.z);
    }
    if (p.numbers) return p.numbers->read(u, v, count, in.moment.frame, in.offset, [&](int i, float value) { out.x[i] = value; });
    const bool colour = p.channel == PictureChannel::colour;
    p.colours->read(u, v, count, in.moment.frame, in.offset, [&](int i, const glm::vec4& read) {
        if (colour)
            out.x[i] = read.x, out.y[i] = read.y, out.z[i] = read.z;
        else
            out.x[i] = channelOf(read, p.channel);
    });
}

void prepare(PicturePattern& p, const RailSource& source) {
    if (isOfWholeColours(p.channel))
        p.colours = std::make_shared<const ReadPictures<glm::vec4>>(p, source);
    else
        p.numbers = std::make_shared<const ReadPictures<float>>(p, source);
}

PatternKind pictureKind() {
    DescribePattern<PicturePattern> d("picture", "Picture", "What a picture, numbered pictures or a camera show where instances stand");
    d.found("image photo map texture video clip mosaic displacement depth tint media");
    describeReading(d, true);
    d.choice("along", &PicturePattern::along, {{"x", "Along X"}, {"y", "Along Y, from above"}, {"z", "Along Z"}},
             "Which way it is laid onto the swarm")
        .label("Laid")
        .standard("z");
    d.choice("over", &PicturePattern::over, {{"swarm", "Stretched"}, {"cover", "In proportion"}, {"placed", "Own place"}},
             "Over all homes, with its sides made to fit or in its own proportions; or where it is put in the swarm")
        .label("Fit");
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
