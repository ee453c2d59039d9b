#include "core/prepare/shown_sheets.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/base/parallel.h"
#include "core/base/text.h"
#include "core/media/media_frame.h"
#include "core/provide/media.h"
#include "core/provide/store.h"

namespace gswarm {
namespace {

/// So many entries are asked for at most before those that are the same picture are found.
constexpr int mostAsked = 1024;
constexpr int mostParts = 10000;

std::uint64_t keyOf(const char* what, std::initializer_list<std::uint64_t> of) {
    ContentHash key;
    key.add(what);
    for (const std::uint64_t one : of) key.add(one);
    return key.value();
}

std::size_t bytesOf(const FloatPicture& picture) { return sizeof picture + picture.light.size() * sizeof(glm::vec3); }

/// Means of so many pixels that no side is longer than `side`; as it is where none is. Alpha 0 is black.
FloatPicture fitted(const MediaFrame& from, int side) {
    const double times = std::min(1.0, double(side) / std::max(from.width(), from.height()));
    FloatPicture to{std::max(1, static_cast<int>(from.width() * times)), std::max(1, static_cast<int>(from.height() * times)), {}};
    to.light.resize(static_cast<std::size_t>(to.width) * static_cast<std::size_t>(to.height));
    const auto begins = [](int k, int few, int many) { return static_cast<int>(static_cast<long>(k) * many / few); };
    forRanges(static_cast<std::size_t>(to.height), 16, [&](std::size_t first, std::size_t last) {
        for (auto y = static_cast<int>(first); y < static_cast<int>(last); ++y)
            for (int x = 0; x < to.width; ++x) {
                const int left = begins(x, to.width, from.width()), right = std::max(left + 1, begins(x + 1, to.width, from.width()));
                const int top = begins(y, to.height, from.height()), under = std::max(top + 1, begins(y + 1, to.height, from.height()));
                glm::vec3 sum(0);
                for (int b = top; b < under; ++b)
                    for (int a = left; a < right; ++a) sum += glm::vec3(from.at(a, b)) * from.at(a, b).w;
                to.light[static_cast<std::size_t>(y) * static_cast<std::size_t>(to.width) + static_cast<std::size_t>(x)] =
                    sum / static_cast<float>((right - left) * (under - top));
            }
    });
    return to;
}

/// Where instances stand among the parts, by row.
struct Parts {
    int across = 1, down = 1;
    std::vector<std::uint32_t> of;
};

/// How many different places there are, where less than a thousandth of the whole is no difference.
int different(std::vector<float> places) {
    if (places.empty()) return 1;
    std::sort(places.begin(), places.end());
    const float apart = (places.back() - places.front()) * 1e-3f;
    int count = 1;
    float last = places.front();
    for (const float place : places)
        if (place - last > apart) ++count, last = place;
    return count;
}

/// Where places begin and how far they reach.
struct Extent {
    float begins = 0, length = 0;
};

Extent extentOf(const std::vector<float>& places) {
    if (places.empty()) return {};
    const auto [least, most] = std::minmax_element(places.begin(), places.end());
    return {*least, *most - *least};
}

/// The axes to the right and upward, and whether they are turned about, as one looks at the homes.
struct Ways {
    int right, up;
    float rightSign, upSign;
};

Ways waysOf(ShownAlong along, const Bounds& homes) {
    const glm::vec3 size = homes.empty() ? glm::vec3(1) : homes.size();
    int axis = static_cast<int>(along) - 1;
    if (along == ShownAlong::flat) axis = size.z <= size.x && size.z <= size.y ? 2 : size.y <= size.x ? 1 : 0;
    if (axis == 0) return {2, 1, -1, 1};
    if (axis == 1) return {0, 2, 1, -1};
    return {0, 1, 1, 1};
}

Parts partsOf(const HomePlan& homes, const ShownAsk& ask) {
    const Ways ways = waysOf(ask.along, homes.bounds);
    const auto count = static_cast<std::size_t>(homes.count);
    std::vector<float> right(count), down(count);
    forRanges((count + blockSize - 1) / blockSize, 4, [&](std::size_t begin, std::size_t end) {
        const auto columns = std::make_unique<HomeColumns>();
        const float* sides[] = {columns->position.x, columns->position.y, columns->position.z};
        for (std::size_t block = begin; block < end; ++block) {
            const int first = static_cast<int>(block) * blockSize, held = std::min(blockSize, homes.count - first);
            homes.place({first, held, homes.count}, *columns);
            for (int i = 0; i < held; ++i) {
                right[static_cast<std::size_t>(first + i)] = sides[ways.right][i] * ways.rightSign;
                down[static_cast<std::size_t>(first + i)] = -sides[ways.up][i] * ways.upSign;
            }
        }
    });
    const Extent wide = extentOf(right), high = extentOf(down);
    Parts parts{ask.as.across, ask.as.down, std::vector<std::uint32_t>(count)};
    if (parts.across == 0 || parts.down == 0) {
        double across = different(right), under = different(down);
        // Where they stand anywhere, as many parts as there are instances, of the same width and height.
        if (across * under > 2.0 * static_cast<double>(count)) {
            across = std::max(
                1.0, std::round(std::sqrt(static_cast<double>(count) * double(wide.length) / std::max(double(high.length), 1e-20))));
            under = std::max(1.0, std::ceil(static_cast<double>(count) / across));
        }
        if (parts.across == 0) parts.across = static_cast<int>(std::min<double>(across, mostParts));
        if (parts.down == 0) parts.down = static_cast<int>(std::min<double>(under, mostParts));
    }
    const auto cell = [](float place, const Extent& whole, int many) {
        const float share = whole.length > 0 ? (place - whole.begins) / whole.length : 0;
        return static_cast<std::uint32_t>(std::clamp(static_cast<int>(std::round(share * static_cast<float>(many - 1))), 0, many - 1));
    };
    forRanges(count, 65536, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i)
            parts.of[i] = cell(right[i], wide, parts.across) + cell(down[i], high, parts.down) * static_cast<std::uint32_t>(parts.across);
    });
    return parts;
}

std::shared_ptr<const Parts> keptParts(const HomePlan& homes, const ShownAsk& ask, Store& store) {
    const std::function<std::shared_ptr<const Parts>()> make = [&] { return std::make_shared<const Parts>(partsOf(homes, ask)); };
    if (homes.hash == 0) return make();
    const auto whole = [](int number) { return static_cast<std::uint64_t>(number); };
    return store.get<Parts>(keyOf("shown parts", {homes.hash, whole(homes.count), whole(static_cast<int>(ask.along)), whole(ask.as.across),
                                                  whole(ask.as.down)}),
                            make, [](const Parts& parts) { return sizeof parts + parts.of.size() * sizeof(std::uint32_t); });
}

/// Means of the parts of a picture, as shares of the brightest of their colours.
std::vector<glm::vec3> tintsOf(const MediaFrame& frame, int across, int down) {
    const auto sums = frame.with([](const auto& pixels) { return PictureSums<glm::vec4>(pixels); });
    std::vector<glm::vec3> tints;
    float most = 0;
    const glm::vec2 sides = 1.0f / glm::vec2(across, down);
    for (int y = 0; y < down; ++y)
        for (int x = 0; x < across; ++x) {
            const glm::vec2 middle = (glm::vec2(x, y) + 0.5f) * sides;
            const glm::vec3 mean(sums.mean(middle.x, 1 - middle.y, sides.x, sides.y));
            most = std::max({most, mean.x, mean.y, mean.z});
            tints.push_back(mean);
        }
    if (most > 0)
        for (glm::vec3& tint : tints) tint = glm::max(tint / most, 0.0f);
    return tints;
}

/// The moments that instances ask for: how much later each is, which picture of those that differ it is, and these.
struct Moments {
    float step = 1;
    std::vector<std::uint16_t> of{};
    std::vector<AskedMedia> different{};
};

Moments momentsOf(const ShownPictures& as, double span, const std::function<AskedMedia(double later)>& ask) {
    const double way = as.frames < 0 ? -1 : 1;
    for (double step = std::max(as.later == LaterBy::number ? std::min(1.0, std::abs(double(as.frames))) : 1.0, span / (mostAsked - 1));;
         step = span / (mostShownMoments - 1)) {
        Moments moments{static_cast<float>(step)};
        std::unordered_map<std::uint64_t, std::uint16_t> known;
        const int count = span > 0 ? static_cast<int>(std::floor(span / step + 0.5)) + 1 : 1;
        for (int k = 0; k < count; ++k) {
            AskedMedia asked = ask(way * step * k);
            const auto [entry, fresh] = known.try_emplace(asked.key, static_cast<std::uint16_t>(moments.different.size()));
            moments.of.push_back(entry->second);
            if (fresh) moments.different.push_back(std::move(asked));
            if (!moments.different.front().moves) return moments;
        }
        if (moments.different.size() <= mostShownMoments) return moments;
    }
}

/// All of them as large as fits on one sheet, each kept by itself: from frame to frame few are new.
std::shared_ptr<const FloatPicture> sheetOf(const std::vector<AskedMedia>& pictures, ShownPictures& shown, Store& store) {
    shown.columns = static_cast<int>(std::ceil(std::sqrt(static_cast<double>(pictures.size())) - 1e-9));
    const int side = longestSheetSide / shown.columns;
    ContentHash key;
    key.add("sheet");
    key.add(static_cast<std::uint64_t>(side));
    std::vector<std::shared_ptr<const FloatPicture>> small;
    for (const AskedMedia& asked : pictures) {
        key.add(asked.key);
        small.push_back(store.get<FloatPicture>(
            keyOf("small picture", {asked.key, static_cast<std::uint64_t>(side)}),
            [&] { return std::make_shared<const FloatPicture>(fitted(*asked.frame(), side)); }, bytesOf));
    }
    const int width = small.front()->width, height = small.front()->height;
    shown.key = key.value();
    if (pictures.size() == 1) return small.front();
    const int rows = (static_cast<int>(pictures.size()) + shown.columns - 1) / shown.columns;
    shown.moment = 1.0f / glm::vec2(shown.columns, rows);
    // Nearly every frame has another: it is quicker put together again than worth its memory.
    FloatPicture sheet{width * shown.columns, height * rows, {}};
    sheet.light.resize(static_cast<std::size_t>(sheet.width) * static_cast<std::size_t>(sheet.height));
    forEach(small.size(), [&](std::size_t k) {
        const FloatPicture& one = *small[k];
        const int left = static_cast<int>(k) % shown.columns * width, top = static_cast<int>(k) / shown.columns * height;
        // One of another size fills its place all the same.
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                sheet
                    .light[static_cast<std::size_t>(top + y) * static_cast<std::size_t>(sheet.width) + static_cast<std::size_t>(left + x)] =
                    one.light[static_cast<std::size_t>(y * one.height / height) * static_cast<std::size_t>(one.width) +
                              static_cast<std::size_t>(x * one.width / width)];
    });
    return std::make_shared<const FloatPicture>(std::move(sheet));
}

}  // namespace

std::shared_ptr<const ShownPictures> shownOnInstances(const ShownAsk& ask, const Scene& scene, double frame,
                                                      const std::filesystem::path& projectFolder, const HomePlan* homes, Store& store,
                                                      ContentHash& hash, std::string& note) {
    auto shown = std::make_shared<ShownPictures>(ask.as);
    const auto later = [&](double frames) { return askMedia(scene, ask.media, frame - frames, projectFolder, store); };
    const double many = homes ? std::max(1, homes->total) : 1;
    const double span = shown->later == LaterBy::none || !homes ? 0
                        : shown->later == LaterBy::number       ? std::abs(double(shown->frames)) * (many - 1)
                                                                : std::abs(double(shown->frames));
    Moments moments = momentsOf(*shown, span, later);
    shown->step = moments.step;
    shown->moments = std::move(moments.of);
    shown->sheet = sheetOf(moments.different, *shown, store);
    for (const AskedMedia& asked : moments.different) hash.add(asked.key);
    hash.add(double(shown->step));
    if (moments.different.size() == mostShownMoments || (span > 0 && shown->step > std::max(1.0, std::abs(double(shown->frames)))))
        note = "“" + scene.at(ask.media).name + "” is seen at " + grouped(static_cast<double>(moments.different.size())) +
               " moments at once, of at most " + std::to_string(mostShownMoments) + ": those of neighbours are one.";
    shown->across = shown->down = 1;
    if (!homes || (!shown->own && !ask.tinted && shown->mirrored != ShownMirrored::everySecond)) return shown;
    const auto parts = keptParts(*homes, ask, store);
    shown->across = parts->across, shown->down = parts->down;
    shown->part = {parts, &parts->of};
    if (ask.tinted) shown->tints = tintsOf(*later(0).frame(), parts->across, parts->down);
    return shown;
}

}  // namespace gswarm
