// Zone of a picture: as strongly as it is bright, or by another of its numbers, laid flat in the zone's own X and Z.
#include "core/pattern/laid_picture.h"
#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

struct PictureZone : PictureReading {
    float width, depth;
    std::shared_ptr<const ReadPictures<float>> numbers;
    std::shared_ptr<const ReadPictures<glm::vec4>> colours;  ///< in place of the numbers, of what is told of whole colours alone
};

void prepare(PictureZone& zone, const RailSource& source) {
    if (isOfWholeColours(zone.channel))
        zone.colours = std::make_shared<const ReadPictures<glm::vec4>>(zone, source);
    else
        zone.numbers = std::make_shared<const ReadPictures<float>>(zone, source);
}

float valueAt(const LaneNumber& number, int i) { return number.column ? number.column[i] : number.value; }

void weigh(const ZoneInput& in, float* weight) {
    const auto& zone = in.as<PictureZone>();
    alignas(64) Column u, v;
    for (int i = 0; i < in.count; ++i) {
        const float width = valueAt(in.numbers[0], i), depth = valueAt(in.numbers[1], i);
        // From above: −Z is up in the picture.
        u[i] = width > 0 ? 0.5f + in.local.x[i] / width : 0.5f;
        v[i] = depth > 0 ? 0.5f - in.local.z[i] / depth : 0.5f;
    }
    if (zone.numbers) return zone.numbers->read(u, v, in.count, in.moment.frame, in.offset, &weight);
    alignas(64) Column green, blue;
    float* const columns[] = {weight, green, blue};
    zone.colours->read(u, v, in.count, in.moment.frame, in.offset, columns);
    for (int i = 0; i < in.count; ++i) weight[i] = channelOf({weight[i], green[i], blue[i], 1}, zone.channel);
}

ZoneLines outline(const std::vector<double>& n, bool core) {
    if (core) return {};
    const float x = static_cast<float>(n[0]) / 2, z = static_cast<float>(n[1]) / 2;
    // Its upper edge is told by a line along it.
    return {{{-x, 0, -z}, {x, 0, -z}, {x, 0, z}, {-x, 0, z}, {-x, 0, -z}}, {{-x * 0.9f, 0, -z * 0.9f}, {x * 0.9f, 0, -z * 0.9f}}};
}

std::vector<ZoneHandle> handles(const std::vector<double>& n) {
    return {{"x", {n[0] / 2, 0, 0}, {1, 0, 0}, "width", -1, 2}, {"z", {0, 0, n[1] / 2}, {0, 0, 1}, "depth", -1, 2}};
}

ZoneKind pictureKind() {
    DescribeZone<PictureZone> d("picture", "Picture", "Acts where pictures, a clip or a camera are bright");
    d.found("image photo map mask texture video clip density media");
    d.length("width", &PictureZone::width, 6, {0.1, 40}, "From its left side to its right, along the zone's X").hard(0, 1e6);
    d.length("depth", &PictureZone::depth, 6, {0.1, 40}, "From its upper edge to its lower, along the zone's Z").hard(0, 1e6);
    describeReading(d, false);
    d.standard("nothing");
    return preparing(makes(d.kind(), weigh, outline, handles), prepare);
}

}  // namespace

const ZoneKind pictureZone = pictureKind();

}  // namespace gswarm
