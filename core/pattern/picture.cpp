// What pictures, a clip or a camera show where instances stand.
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/base/precise.h"
#include "core/pattern/laid_picture.h"
#include "core/pattern/pattern_kind.h"
#include "core/shape/homes.h"

namespace gswarm {
namespace {

enum class PictureOver { swarm, cover, placed };
enum class PictureLaid { x, y, z, ground, camera, grid };

struct PicturePattern : PictureReading {
    PictureLaid along;
    ObjectId camera;
    PictureOver over;
    glm::vec3 centre;
    float width, height, angle;
    glm::mat4 seen;                                  ///< from the swarm's space to what the camera sees
    std::shared_ptr<const std::vector<float>> u, v;  ///< of the ground, by row
    Lattice lattice;                                 ///< of the grid
    std::shared_ptr<const ReadPictures<float>> numbers;
    std::shared_ptr<const ReadPictures<glm::vec4>> colours;  ///< in place of the numbers, of what is told of whole colours alone

    float proportion() const { return numbers ? numbers->proportion() : colours->proportion(); }
};

/// Where the picture lies: its middle, and its sides as metres to the right and up.
struct Laid {
    glm::vec3 centre, right, up;
};

/// To the right and up as one looks along an axis: along X and Y from its positive end, along Y from above.
std::pair<glm::vec3, glm::vec3> sidesOf(PictureLaid along) {
    if (along == PictureLaid::x) return {{0, 0, -1}, {0, 1, 0}};
    if (along == PictureLaid::y) return {{1, 0, 0}, {0, 0, -1}};
    return {{1, 0, 0}, {0, 1, 0}};
}

/// The same, turned as the pattern is.
std::pair<glm::vec3, glm::vec3> turnedSides(const PicturePattern& p) {
    const auto [right, up] = sidesOf(p.along);
    const auto turn = precise::sineCosine(p.angle);
    const auto c = static_cast<float>(turn.cosine), s = static_cast<float>(turn.sine);
    return {right * c + up * s, up * c - right * s};
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
    const auto [across, upward] = turnedSides(p);
    return {centre, across * width, upward * height};
}

/// What a side is times, so that a dot product with it is a share of the side; a side without length has but a middle.
glm::vec3 perLength(const glm::vec3& side) {
    const float square = glm::dot(side, side);
    return square > 0 ? side / square : glm::vec3(0);
}

constexpr float nowhere = 2e30f;

void layFlat(const PicturePattern& p, const PatternInput& in, int count, float* u, float* v) {
    const Laid laid = laidOf(p, in.range);
    const glm::vec3 right = perLength(laid.right), up = perLength(laid.up);
    for (int i = 0; i < count; ++i) {
        const float x = in.place.x[i] - laid.centre.x, y = in.place.y[i] - laid.centre.y, z = in.place.z[i] - laid.centre.z;
        u[i] = 0.5f + (x * right.x + y * right.y + z * right.z);
        v[i] = 0.5f + (x * up.x + y * up.y + z * up.z);
    }
}

/// What lies behind the camera is not in the picture.
void throwThroughCamera(const PicturePattern& p, const PatternInput& in, int count, float* u, float* v) {
    for (int i = 0; i < count; ++i) {
        const glm::vec4 seen = p.seen * glm::vec4(in.place.x[i], in.place.y[i], in.place.z[i], 1);
        u[i] = seen.w > 0 ? 0.5f + 0.5f * seen.x / seen.w : nowhere;
        v[i] = seen.w > 0 ? 0.5f + 0.5f * seen.y / seen.w : nowhere;
    }
}

/// The middle of a share for each column and row of a grid: of one sheet as one looks at it, of a block from its front.
void takeGrid(const Lattice& lattice, const Block& block, int count, float* u, float* v) {
    const glm::ivec3& many = lattice.count;
    const bool fromAbove = many.y == 1 && many.z > 1, fromTheSide = many.x == 1 && many.z > 1 && many.y > 1;
    const int across = fromTheSide ? many.z : many.x, down = fromAbove ? many.z : many.y;
    for (int i = 0; i < count; ++i) {
        const auto at = static_cast<std::size_t>(std::min(i, block.count - 1));
        const std::uint64_t id = static_cast<std::uint64_t>(block.home.idHigh[at]) << 32 | block.home.idLow[at];
        const glm::ivec3 place = latticeCoordinates(id) + lattice.anchor;
        const int column = fromTheSide ? many.z - 1 - place.z : place.x, row = fromAbove ? place.z : many.y - 1 - place.y;
        u[i] = (static_cast<float>(column) + 0.5f) / static_cast<float>(across);
        v[i] = 1 - (static_cast<float>(row) + 0.5f) / static_cast<float>(down);
    }
}

void takeGround(const PicturePattern& p, const Block& block, int count, float* u, float* v) {
    for (int i = 0; i < count; ++i) {
        const auto row = static_cast<std::size_t>(block.first + std::min(i, block.count - 1));
        u[i] = (*p.u)[row], v[i] = (*p.v)[row];
    }
}

void lay(const PicturePattern& p, const PatternInput& in, float* u, float* v) {
    const int count = paddedCount(in.block);
    if (p.along == PictureLaid::camera)
        throwThroughCamera(p, in, count, u, v);
    else if (p.along == PictureLaid::ground)
        takeGround(p, in.block, count, u, v);
    else if (p.along == PictureLaid::grid)
        takeGrid(p.lattice, in.block, count, u, v);
    else
        layFlat(p, in, count, u, v);
}

void fill(const PicturePattern& p, const PatternInput& in, Columns3& out) {
    const int count = paddedCount(in.block);
    alignas(64) Column u, v;
    lay(p, in, u, v);
    float* const columns[] = {out.x, out.y, out.z};
    if (p.numbers) return p.numbers->read(u, v, count, in.moment.frame, in.offset, columns);
    p.colours->read(u, v, count, in.moment.frame, in.offset, columns);
    if (p.channel == PictureChannel::colour) return;
    for (int i = 0; i < count; ++i) out.x[i] = channelOf({out.x[i], out.y[i], out.z[i], 1}, p.channel);
}

/// One of the columns of the swarm's homes, as long as these are there.
std::shared_ptr<const std::vector<float>> groundColumn(const RailSource& source, HomeExtra::What what) {
    if (source.standing)
        for (const HomeExtra& extra : source.standing->extras)
            if (extra.what == what) return {source.standing, &extra.values};
    throw Error("The swarm stands on no mesh, whose UV would say where each is; lay the picture another way.");
}

void prepare(PicturePattern& p, const RailSource& source) {
    if (p.along == PictureLaid::camera) p.seen = source.view(p.camera) * matrixOf(source.swarm);
    if (p.along == PictureLaid::ground) {
        p.u = groundColumn(source, HomeExtra::What::groundU);
        p.v = groundColumn(source, HomeExtra::What::groundV);
    }
    if (p.along == PictureLaid::grid) {
        if (!source.lattice)
            throw Error("The swarm stands on no grid, whose columns and rows would say where each is; lay the picture another way.");
        p.lattice = *source.lattice;
    }
    if (isOfWholeColours(p.channel))
        p.colours = std::make_shared<const ReadPictures<glm::vec4>>(p, source);
    else
        p.numbers = std::make_shared<const ReadPictures<float>>(p, source);
}

PatternKind pictureKind() {
    DescribePattern<PicturePattern> d("picture", "Picture", "What pictures, a clip or a camera show where instances stand");
    d.found("image photo map texture video clip mosaic displacement depth tint media");
    describeReading(d, true);
    d.choice("along", &PicturePattern::along,
             {{"x", "Along X"},
              {"y", "Along Y, from above"},
              {"z", "Along Z"},
              {"ground", "On the ground's UV"},
              {"camera", "Through a camera"},
              {"grid", "By row and column"}},
             "Which way it is laid onto the swarm: along an axis, as the UV of the mesh it stands on lie, as if a camera threw it, or a "
             "share for each row and column "
             "of the grid, wherever these stand")
        .label("Laid")
        .standard("z");
    d.reference("camera", &PicturePattern::camera, {ObjectType::camera}, "The camera that throws it; none for the one that is on")
        .optional()
        .only("along", {"camera"});
    d.choice("over", &PicturePattern::over, {{"swarm", "Stretched"}, {"cover", "In proportion"}, {"placed", "Own place"}},
             "Over all homes, with its sides made to fit or in its own proportions; or where it is put in the swarm")
        .label("Fit")
        .only("along", {"x", "y", "z"});
    d.length("centre", &PicturePattern::centre, {0, 0, 0}, {-10, 10}, "Its middle, in the swarm")
        .only("along", {"x", "y", "z"})
        .only("over", {"placed"});
    d.length("width", &PicturePattern::width, 6, {0.5, 20}, "From side to side")
        .hard(1e-3, 1e6)
        .only("along", {"x", "y", "z"})
        .only("over", {"placed"});
    d.length("height", &PicturePattern::height, 0, {0, 20}, "From top to bottom; 0 keeps its proportions")
        .hard(0, 1e6)
        .only("along", {"x", "y", "z"})
        .only("over", {"placed"});
    d.angle("angle", &PicturePattern::angle, 0, {-180, 180}, "Turns it about its middle").only("along", {"x", "y", "z"});
    PatternKind kind = preparing(
        makes(
            d, PatternRange::zeroToOne, +[](const PicturePattern& p) { return p.channel == PictureChannel::colour ? 3 : 1; }, fill),
        prepare);
    kind.onPicture = [](const void* data, const PatternInput& in, float* u, float* v) {
        lay(*static_cast<const PicturePattern*>(data), in, u, v);
    };
    kind.place = [](const void* data) -> std::optional<PatternPlace> {
        const auto& p = *static_cast<const PicturePattern*>(data);
        if (p.over != PictureOver::placed || p.along > PictureLaid::z) return std::nullopt;
        const auto [right, up] = turnedSides(p);
        return PatternPlace{p.centre, right * p.width, up * p.height, glm::cross(right, up)};
    };
    return readingRange(
        kind, +[](const PicturePattern& p) { return p.over != PictureOver::placed && p.along <= PictureLaid::z; });
}

}  // namespace

const PatternKind picturePattern = pictureKind();

}  // namespace gswarm
