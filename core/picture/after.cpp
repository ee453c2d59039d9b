#include "core/picture/after.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

#include "core/base/parallel.h"
#include "core/picture/bloom.h"
#include "core/picture/display.h"
#include "core/picture/largest.h"
#include "core/picture/lens.h"
#include "core/picture/pixel_lanes.h"
#include "core/picture/row_lanes.h"

namespace gswarm {

using glm::vec3;

namespace {

/// Calls `work(x, y, i)` for every pixel; rows on all cores.
template <class Work>
void forPixels(int width, int height, const Work& work) {
    forRanges(static_cast<std::size_t>(height), 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y)
            for (int x = 0; x < width; ++x) work(x, static_cast<int>(y), y * static_cast<std::size_t>(width) + static_cast<std::size_t>(x));
    });
}

/// Evenly −1 … 1, of a pixel's place alone.
float grainAt(int x, int y) {
    std::uint32_t v = static_cast<std::uint32_t>(x) * 0x9e3779b9u ^ static_cast<std::uint32_t>(y) * 0x85ebca6bu;
    v ^= v >> 16, v *= 0x7feb352du, v ^= v >> 15, v *= 0x846ca68bu, v ^= v >> 16;
    return static_cast<float>(v >> 8) * (2.0f / 16777216.0f) - 1;
}

void addFog(LinearPicture& picture, const After& after) {
    const auto width = static_cast<std::size_t>(picture.width);
    forRanges(static_cast<std::size_t>(picture.height), 16, [&](std::size_t begin, std::size_t end) {
        const std::size_t first = begin * width;
        fogOver({&picture.light[first], (end - begin) * width}, &picture.coverage[first], &picture.depth[first], after.fogStart,
                after.fogDepth, vec3(after.fogColour));
    });
}

/// How much the pixel before a jump lies in front of the one behind it: lines belong to what is nearer.
bool isNearer(const LinearPicture& p, std::size_t a, std::size_t b) {
    if (p.coverage[a] < 0.5f) return false;
    return p.coverage[b] < 0.5f || p.depth[a] <= p.depth[b];
}

bool jumps(const LinearPicture& p, std::size_t before, std::size_t a, std::size_t b, std::size_t behind, float creaseCosine) {
    // Floor and background go over into each other without an edge.
    if (p.id[a] == 0 && p.id[b] == 0) return false;
    const bool here = p.coverage[a] >= 0.5f, there = p.coverage[b] >= 0.5f;
    if (here != there) return true;
    if (!here) return false;
    if (p.id[a] != p.id[b]) return true;
    const float step = std::abs(p.depth[a] - p.depth[b]);
    const float slope = std::max(std::abs(p.depth[a] - p.depth[before]), std::abs(p.depth[b] - p.depth[behind]));
    if (step > 3 * slope + 0.01f * p.depth[a]) return true;
    const float lengths = glm::length(p.normal[a]) * glm::length(p.normal[b]);
    return lengths > 0 && glm::dot(p.normal[a], p.normal[b]) < creaseCosine * lengths;
}

void addLines(LinearPicture& picture, const After& after, float width) {
    const std::vector<float> lines = linesOf(picture, width, std::cos(after.lineCrease));
    const vec3 colour = vec3(after.lineColour) * after.lineStrength;
    const bool alone = after.lines == EdgeLines::alone;
    forPixels(picture.width, picture.height, [&](int, int, std::size_t i) {
        const float line = lines[i] * after.lineColour.w;
        picture.light[i] = (alone ? vec3(0) : picture.light[i]) * (1 - line) + colour * line;
        picture.coverage[i] = (alone ? 0.0f : picture.coverage[i]) * (1 - line) + line;
    });
}

/// As large as it must be for none of it to be missing at two opposite edges, its middle in the middle.
vec3 pictureAt(const FloatPicture& behind, float x, float y, float width, float height) {
    const float scale = std::max(width / static_cast<float>(behind.width), height / static_cast<float>(behind.height));
    const float u = (x - width / 2) / scale + static_cast<float>(behind.width) / 2 - 0.5f;
    const float v = (y - height / 2) / scale + static_cast<float>(behind.height) / 2 - 0.5f;
    const auto pixel = [&](int a, int b) {
        a = std::clamp(a, 0, behind.width - 1), b = std::clamp(b, 0, behind.height - 1);
        return behind.light[static_cast<std::size_t>(b) * static_cast<std::size_t>(behind.width) + static_cast<std::size_t>(a)];
    };
    return betweenPixels(u, v, pixel);
}

/// What lights the scene from far away, as the camera sees it.
void addSurroundings(LinearPicture& picture, const Setting& setting) {
    const float width = static_cast<float>(picture.width), height = static_cast<float>(picture.height);
    const Lens lens({&setting, 1}, width / height);
    forPixels(picture.width, picture.height, [&](int x, int y, std::size_t i) {
        const float part = 1 - picture.coverage[i];
        if (part <= 0) return;
        const float u = (static_cast<float>(x) + 0.5f) / width * 2 - 1, v = 1 - (static_cast<float>(y) + 0.5f) / height * 2;
        const vec3 direction = lens.through(u, v, 0, 0.5f, 0.5f).direction;
        vec3 light = skyFrom(setting.light, direction);
        for (const Surroundings& one : setting.light.surroundings) light += one.from(direction);
        picture.light[i] += part * light;
    });
}

void addBackground(LinearPicture& picture, const Setting& setting) {
    if (setting.after.background == Background::surroundings) return addSurroundings(picture, setting);
    if (setting.behind) {
        const float width = static_cast<float>(picture.width), height = static_cast<float>(picture.height);
        return forPixels(picture.width, picture.height, [&](int x, int y, std::size_t i) {
            const float part = 1 - picture.coverage[i];
            if (part > 0)
                picture.light[i] +=
                    part * pictureAt(*setting.behind, static_cast<float>(x) + 0.5f, static_cast<float>(y) + 0.5f, width, height);
        });
    }
    const vec3 below = setting.background;
    const bool gradient = setting.after.background == Background::gradient;
    const vec3 above = gradient ? vec3(setting.after.above) : below;
    const auto width = static_cast<std::size_t>(picture.width);
    forRanges(static_cast<std::size_t>(picture.height), 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y) {
            const float share = (static_cast<float>(y) + 0.5f) / static_cast<float>(picture.height);
            addBehind({&picture.light[y * width], width}, &picture.coverage[y * width], glm::mix(above, below, share));
        }
    });
}

}  // namespace

bool changesPictures(const After& after) {
    return after.fog || after.lines != EdgeLines::none || after.bloom > 0 || after.vignette > 0 || after.grain > 0 ||
           (after.background != Background::colour && after.background != Background::transparent);
}

LinearPicture developed(const Film& film) {
    LinearPicture p{film.width, film.height, {}, {}, {}, {}, {}};
    const std::size_t count = film.pixels.size();
    p.light.resize(count), p.coverage.resize(count), p.depth.resize(count), p.normal.resize(count), p.id.resize(count);
    forPixels(film.width, film.height, [&](int, int, std::size_t i) {
        const Film::Pixel& pixel = film.pixels[i];
        const float n = std::max(1.0f, static_cast<float>(pixel.samples));
        p.light[i] = pixel.light / n;
        p.coverage[i] = pixel.coverage / n;
        p.depth[i] = pixel.coverage > 0 ? pixel.depth / pixel.coverage : 0;
        p.normal[i] = pixel.normal / n;
        p.id[i] = pixel.id;
    });
    return p;
}

std::vector<float> linesOf(const LinearPicture& p, float width, float creaseCosine) {
    // Marked pixels, then how far the next one is: along rows, then over the rows around.
    const int w = p.width, h = p.height, reach = static_cast<int>(std::ceil((width + 1) / 2));
    const auto at = [&](int x, int y) {
        return static_cast<std::size_t>(std::clamp(y, 0, h - 1)) * static_cast<std::size_t>(w) +
               static_cast<std::size_t>(std::clamp(x, 0, w - 1));
    };
    std::vector<std::uint8_t> marked(p.light.size());
    forPixels(w, h, [&](int x, int y, std::size_t i) {
        for (const auto& [dx, dy] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}}) {
            if (x + dx < 0 || y + dy < 0 || x + dx >= w || y + dy >= h) continue;
            const std::size_t next = at(x + dx, y + dy);
            if (jumps(p, at(x - dx, y - dy), i, next, at(x + 2 * dx, y + 2 * dy), creaseCosine) && isNearer(p, i, next)) marked[i] = 1;
        }
    });
    std::vector<float> along(p.light.size()), line(p.light.size());
    const float none = static_cast<float>(reach) + 1;
    forRanges(static_cast<std::size_t>(h), 16, [&](std::size_t begin, std::size_t end) {
        for (auto y = static_cast<int>(begin); y < static_cast<int>(end); ++y) {
            float away = none;
            for (int x = 0; x < w; ++x) along[at(x, y)] = away = marked[at(x, y)] ? 0 : std::min(none, away + 1);
            away = none;
            for (int x = w - 1; x >= 0; --x) {
                away = marked[at(x, y)] ? 0 : std::min(none, away + 1);
                along[at(x, y)] = std::min(along[at(x, y)], away);
            }
        }
    });
    forPixels(w, h, [&](int x, int y, std::size_t i) {
        float nearest = none * none;
        for (int v = std::max(0, y - reach); v <= std::min(h - 1, y + reach); ++v) {
            const float a = along[at(x, v)], b = static_cast<float>(v - y);
            nearest = std::min(nearest, a * a + b * b);
        }
        line[i] = std::clamp((width + 1) / 2 - std::sqrt(nearest), 0.0f, 1.0f);
    });
    // Steps of the marks are smoothed.
    std::vector<float> smooth(line.size());
    forPixels(w, h, [&](int x, int y, std::size_t i) {
        const float cross = line[at(x - 1, y)] + line[at(x + 1, y)] + line[at(x, y - 1)] + line[at(x, y + 1)];
        const float corners = line[at(x - 1, y - 1)] + line[at(x + 1, y - 1)] + line[at(x - 1, y + 1)] + line[at(x + 1, y + 1)];
        smooth[i] = line[i] * 0.5f + cross * 0.1f + corners * 0.025f;
    });
    return smooth;
}

namespace {

/// Rows of 8 and 16 bits: what is shown, with its alpha.
void put(Image& image, std::size_t first, std::span<const vec3> shown, const std::vector<float>& alpha) {
    std::uint8_t* to = &image.pixels[4 * first];
    toBytes(shown, to);
    for (std::size_t x = 0; x < alpha.size(); ++x) to[4 * x + 3] = static_cast<std::uint8_t>(alpha[x] * 255 + 0.5f);
}
void put(Image16& image, std::size_t first, std::span<const vec3> shown, const std::vector<float>& alpha) {
    const auto whole = [](float part) { return static_cast<std::uint16_t>(part * 65535 + 0.5f); };
    std::uint16_t* to = &image.pixels[4 * first];
    for (std::size_t x = 0; x < shown.size(); ++x, to += 4)
        to[0] = whole(shown[x].x), to[1] = whole(shown[x].y), to[2] = whole(shown[x].z), to[3] = alpha.empty() ? 65535 : whole(alpha[x]);
}

/// Bloom beside things is seen over whatever is behind: as opaque as it is bright.
float seenThrough(vec3& shown, const vec3& light, float part, const Setting& setting) {
    const float bright = largestOf(shown), alpha = std::min(1.0f, std::max(part, bright));
    if (part > 0 && part >= bright)
        shown = display(light / part, setting.exposure, setting.display);
    else if (alpha > 0)
        shown /= alpha;
    return alpha;
}

/// `I` is an image.
template <class I>
I finished(LinearPicture& picture, const Setting& setting) {
    const After& after = setting.after;
    const float scale = static_cast<float>(picture.width) / static_cast<float>(setting.pictureWidth);
    const bool transparent = after.background == Background::transparent;
    if (after.fog) addFog(picture, after);
    if (after.lines != EdgeLines::none) addLines(picture, after, after.lineWidth * scale);
    if (!transparent) addBackground(picture, setting);
    if (after.bloom > 0)
        bloom(picture.light, picture.width, picture.height, after.bloomSize / 100 * static_cast<float>(setting.pictureHeight) * scale,
              after.bloom / 100);
    const auto width = static_cast<std::size_t>(picture.width);
    const float w = static_cast<float>(picture.width), h = static_cast<float>(picture.height), corner = (w * w + h * h) / 4;
    I image{picture.width, picture.height, decltype(I::pixels)(4 * picture.light.size())};
    forRanges(static_cast<std::size_t>(picture.height), 16, [&](std::size_t begin, std::size_t end) {
        std::vector<vec3> shown(width);
        std::vector<float> alpha(transparent ? width : 0), edge(after.vignette > 0 ? width : 0);
        for (std::size_t y = begin; y < end; ++y) {
            vec3* light = &picture.light[y * width];
            const float v = static_cast<float>(y) + 0.5f - h / 2, dark = after.vignette / 100 / corner;
            for (std::size_t x = 0; x < edge.size(); ++x) {
                const float u = static_cast<float>(x) + 0.5f - w / 2;
                edge[x] = 1 - dark * (u * u + v * v);
            }
            if (!edge.empty()) dimRow({light, width}, edge.data());
            std::copy_n(light, width, shown.begin());
            displayAll(shown, setting.exposure, setting.display);
            for (std::size_t x = 0; x < alpha.size(); ++x)
                alpha[x] = seenThrough(shown[x], light[x], picture.coverage[y * width + x], setting);
            if (after.grain > 0)
                for (std::size_t x = 0; x < width; ++x)
                    shown[x] = glm::clamp(shown[x] + after.grain / 100 * grainAt(static_cast<int>(x), static_cast<int>(y)), 0.0f, 1.0f);
            put(image, y * width, shown, alpha);
        }
    });
    return image;
}

}  // namespace

Image finish(LinearPicture picture, const Setting& setting) { return finishInPlace(picture, setting); }
Image16 finish16(LinearPicture picture, const Setting& setting) { return finished<Image16>(picture, setting); }
Image finishInPlace(LinearPicture& picture, const Setting& setting) { return finished<Image>(picture, setting); }

}  // namespace gswarm
