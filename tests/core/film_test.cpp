// The film: samples that come in steps, what its noise is told to be, the noise filter, and what comes after.
#include <gtest/gtest.h>

#include <bit>
#include <cmath>
#include <glm/geometric.hpp>
#include <random>

#include "core/base/chance.h"
#include "core/picture/after.h"
#include "core/picture/bloom.h"
#include "core/picture/display.h"
#include "core/picture/filter.h"
#include "core/picture/regression.h"
#include "tests/core/traced.h"

using namespace gswarm;
using making::Build, making::numbersOf, making::shotOf;

namespace {

Film filmOf(const Tracer& tracer, int samples) {
    Film film(48, 27);
    tracer.expose(film, film.whole(), {.samples = samples}, Progress());
    return film;
}

/// A flat film whose samples are even about a mean, with what their noise really is; grey, or of an own colour.
struct Flat {
    Film film{64, 64};
    std::mt19937 chance{7};

    void expose(
        const std::function<float(int x, int y)>& mean, float spread, int samples,
        const std::function<float(int x, int y)>& own = [](int, int) { return 0.5f; }) {
        std::uniform_real_distribution<float> off(-spread, spread);
        for (int y = 0; y < film.height; ++y)
            for (int x = 0; x < film.width; ++x) {
                Film::Pixel& p = film.at(x, y);
                for (int s = 0; s < samples; ++s) {
                    const float light = mean(x, y) + off(chance);
                    if (std::has_single_bit(p.samples)) p.early = p.luminance;
                    p.light += glm::vec3(light), p.luminance += light, p.squares += light * light;
                    p.coverage += 1, p.albedo += glm::vec3(own(x, y)), p.depth += 4, p.normal += glm::vec3(0, 1, 0);
                    ++p.samples;
                }
                p.id = 1;
            }
    }
};

/// Root of the mean squared distance from a mean.
double off(const std::vector<glm::vec3>& light, const Film& film, const std::function<float(int, int)>& mean) {
    double sum = 0;
    for (int y = 0; y < film.height; ++y)
        for (int x = 0; x < film.width; ++x) sum += std::pow(light[static_cast<std::size_t>(y * film.width + x)].x - mean(x, y), 2);
    return std::sqrt(sum / static_cast<double>(light.size()));
}

LinearPicture plainPicture(int width, int height) {
    LinearPicture p{width, height, {}, {}, {}, {}, {}};
    const auto count = static_cast<std::size_t>(width * height);
    p.light.assign(count, glm::vec3(0.25f)), p.coverage.assign(count, 1), p.depth.assign(count, 5);
    p.normal.assign(count, {0, 0, 1}), p.id.assign(count, 1);
    return p;
}

Setting plainSetting() {
    Setting setting;
    setting.after.lineColour = {1, 0, 0, 1};
    setting.after.lineStrength = 1;
    setting.pictureWidth = setting.pictureHeight = 64;
    return setting;
}

double linearAt(const Image& image, int x, int y, int channel = 0) {
    return linearFromSrgb(image.pixels[static_cast<std::size_t>(4 * (y * image.width + x) + channel)] / 255.0);
}

}  // namespace

TEST(Film, SamplesInStepsAreTheSameAsAtOnce) {
    Progress progress;
    Tracer tracer;
    tracer.show(shotOf(Build::grid(4, 2, 4)), progress);
    const Film once = filmOf(tracer, 9);
    Film steps(48, 27);
    for (const int samples : {1, 2, 5, 9}) tracer.expose(steps, steps.whole(), {.samples = samples}, progress);
    EXPECT_EQ(numbersOf(steps), numbersOf(once));
    // And a part is the same part of the whole.
    Film part(48, 27);
    tracer.expose(part, {8, 4, 16, 16}, {.samples = 9}, progress);
    EXPECT_EQ(part.at(12, 9).light, once.at(12, 9).light);
    EXPECT_EQ(part.at(40, 20).samples, 0u);
}

TEST(Film, WhatIsKeptFromPictureToPictureChangesNothing) {
    Progress progress;
    Build b = Build::grid(4, 2, 4);
    Tracer kept;
    kept.show(shotOf(b), progress);
    const auto same = [&](const char* what) {
        Tracer fresh;
        fresh.show(shotOf(b), progress);
        kept.show(shotOf(b), progress);
        EXPECT_EQ(numbersOf(filmOf(kept, 3)), numbersOf(filmOf(fresh, 3))) << what;
    };
    b.set(b.scene.all(ObjectType::camera).front(), "position", {3, 5, 9});
    same("another camera");
    b.set(b.material, "roughness", {0.1}).set(b.material, "metal", {1});
    same("another material");
    b.set(b.material, "colour", {0.9, 0.2, 0.1, 1});
    same("another colour");
    b.set(b.swarm, "position", {1, 0, -2});
    same("the swarm moved");
    b.set(b.formation, "count", {3, 1, 5});
    same("other instances");
}

TEST(Film, GoesOnOnlyWhereLightSeesNoDifference) {
    Build b = Build::grid(3, 1, 3);
    const Shot before = shotOf(b);
    EXPECT_TRUE(exposeAlike(before, shotOf(b)));
    const ObjectId project = b.scene.project().id;
    b.set(project, "after-bloom", {20}).set(project, "exposure", {1});
    EXPECT_TRUE(exposeAlike(before, shotOf(b))) << "that comes after";
    const auto seen = [&](const char* what, ObjectId object, const char* parameter, std::initializer_list<double> numbers) {
        Build other = b;
        other.set(object, parameter, numbers);
        EXPECT_FALSE(exposeAlike(shotOf(b), shotOf(other))) << what;
    };
    seen("a surface", b.material, "roughness", {0.1});
    seen("a colour", b.material, "colour", {0.9, 0.1, 0.1, 1});
    seen("a place", b.swarm, "position", {1, 0, 0});
    seen("the sun", b.sun(), "size", {9});
    seen("the lens", b.scene.all(ObjectType::camera).front(), "focalLength", {85});
}

TEST(Film, NoiseIsToldAsItIs) {
    for (const float spread : {0.05f, 0.2f}) {
        Flat flat;
        const auto mean = [](int, int) { return 0.4f; };
        flat.expose(mean, spread, 32);
        const double really = spread / std::sqrt(3.0) / std::sqrt(32.0);
        EXPECT_NEAR(off(developed(flat.film).light, flat.film, mean), really, 0.1 * really);
        // As the display shows it: sRGB's slope there, by its own definition.
        const double slope = (srgbFromLinear(0.41) - srgbFromLinear(0.39)) / 0.02;
        EXPECT_NEAR(noiseOf(flat.film, flat.film.whole(), 1), really * slope, 0.15 * really * slope);
    }
    EXPECT_EQ(noiseOf(Film(8, 8), {0, 0, 8, 8}, 1), 1) << "nothing is known without samples";
}

TEST(Film, NoiseOfRealPicturesIsToldAsItIs) {
    // Mostly edges, which even samples find sooner than chance.
    Build b = Build::grid(6, 1, 6);
    b.set(b.material, "metal", {0.5}).set(b.material, "roughness", {0.4});
    Tracer tracer;
    Progress progress;
    tracer.show(shotOf(b), progress);
    const float exposure = tracer.shot().setting().exposure;
    std::vector<double> told;
    for (const int samples : {16, 24, 64}) {
        std::array<Film, 2> films{Film(96, 54), Film(96, 54)};
        for (std::uint32_t k = 0; k < 2; ++k) tracer.expose(films[k], films[k].whole(), {.samples = samples, .seed = k + 1}, progress);
        double squares = 0;
        for (std::size_t i = 0; i < films[0].pixels.size(); ++i) {
            const auto seen = [&](const Film& film) {
                const float light = std::min(film.pixels[i].luminance / static_cast<float>(samples) * exposure, 1.0f);
                return srgbFromLinear(double(light));
            };
            squares += std::pow(seen(films[0]) - seen(films[1]), 2) / 2;
        }
        const double really = std::sqrt(squares / static_cast<double>(films[0].pixels.size()));
        told.push_back(noiseOf(films[0], films[0].whole(), exposure));
        EXPECT_GT(told.back(), 0.85 * really) << samples;
        EXPECT_LT(told.back(), 2.1 * really) << samples;
    }
    EXPECT_GT(told[0], 2.2 * told[2]) << "chance would take four times as many samples for half the noise";
}

TEST(Film, CancelledItIsInOrder) {
    Progress progress;
    Tracer tracer;
    tracer.show(shotOf(Build::grid(4, 2, 4)), progress);
    Film film(48, 27);
    progress.cancel();
    EXPECT_THROW(tracer.expose(film, film.whole(), {.samples = 4}, progress), Cancelled);
    Progress again;
    tracer.expose(film, film.whole(), {.samples = 4}, again);
    EXPECT_EQ(numbersOf(film), numbersOf(filmOf(tracer, 4)));
}

TEST(NoiseFilter, TakesNoiseAwayAndKeepsEdges) {
    Flat flat;
    const auto step = [](int x, int) { return x < 32 ? 0.2f : 0.9f; };
    flat.expose(step, 0.3f, 8);
    const double before = off(developed(flat.film).light, flat.film, step),
                 after = off(filtered(flat.film, Progress()).light, flat.film, step);
    EXPECT_LT(after, before / 3);
    // An edge of light alone, much higher than the noise, stays where it is.
    const auto light = filtered(flat.film, Progress()).light;
    double left = 0, right = 0;
    for (int y = 0; y < 64; ++y)
        left += light[static_cast<std::size_t>(y * 64 + 31)].x / 64, right += light[static_cast<std::size_t>(y * 64 + 32)].x / 64;
    EXPECT_NEAR(left, 0.2, 0.03);
    EXPECT_NEAR(right, 0.9, 0.03);
}

TEST(NoiseFilter, SpreadsSpikesThatAreBrighterThanWhatIsHeldButNotWhatShinesSteadily) {
    Flat flat;
    const auto dim = [](int, int) { return 0.2f; };
    flat.expose(dim, 0.1f, 16);
    constexpr float bright = 50, held = 4;
    const auto add = [&](int x, int y, float samples) {
        Film::Pixel& p = flat.film.at(x, y);
        p.light += glm::vec3(samples * (bright - 0.2f));
        p.luminance += samples * (held - 0.2f), p.squares += samples * (held * held - 0.04f);
        if (samples > 1) p.early += samples / 2 * (held - 0.2f);
    };
    for (int y = 4; y < 64; y += 8)
        for (int x = 4; x < 30; x += 8) add(x, y, 1);
    for (int y = 0; y < 64; ++y)
        for (int x = 40; x < 64; ++x) add(x, y, 16);
    const auto light = filtered(flat.film, Progress()).light;
    EXPECT_LT(light[20 * 64 + 12].x, 0.6f) << "of 3.3 before";
    double left = 0;
    for (int y = 8; y < 56; ++y)
        for (int x = 8; x < 24; ++x) left += light[static_cast<std::size_t>(y * 64 + x)].x / (48 * 16);
    EXPECT_NEAR(left, 0.2 + 49.8 / 16 / 64, 0.02) << "nothing of their light is lost";
    EXPECT_NEAR(light[32 * 64 + 40].x, bright, 0.5);
    EXPECT_NEAR(light[32 * 64 + 39].x, 0.2, 0.1);
}

TEST(NoiseFilter, LeavesACleanFilmAlone) {
    Flat flat;
    const auto wave = [](int x, int y) {
        return 0.5f + 0.3f * std::sin(0.9f * static_cast<float>(x)) * std::cos(0.7f * static_cast<float>(y));
    };
    flat.expose(wave, 0, 8);
    EXPECT_LT(off(filtered(flat.film, Progress()).light, flat.film, wave), 0.004);
}

TEST(NoiseFilter, IsTheSameOnAnyNumberOfThreads) {
    Flat flat;
    flat.expose([](int x, int) { return x < 20 ? 0.2f : 0.6f; }, 0.3f, 4);
    std::vector<glm::vec3> one;
    for (const int threads : {1, 2, 4}) {
        std::vector<glm::vec3> light;
        Workers(threads).run([&] { light = filtered(flat.film, Progress()).light; });
        if (threads == 1) one = light;
        EXPECT_EQ(light, one) << threads;
    }
}

/// A picture of two mottled surfaces, one in front of the other.
FilterPlanes mottled(int width, int height) {
    FilterPlanes planes(width, height);
    std::mt19937 chance(3);
    std::uniform_real_distribution<float> unit(0, 1);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const std::size_t i = planes.at(x, y);
            const bool front = x + y > width / 2;
            const glm::vec3 n = glm::normalize(glm::vec3(unit(chance) * 0.3f, front ? 1 : 0.2f, unit(chance) * 0.3f));
            for (int c = 0; c < 3; ++c) {
                planes.normal[c][i] = n[c], planes.albedo[c][i] = 0.4f + 0.1f * unit(chance);
                planes.light[c][i] = 0.5f + 0.3f * planes.albedo[c][i] + 0.1f * unit(chance);
            }
            planes.depth[i] = (front ? 4.0f : 6.0f) + 0.01f * unit(chance), planes.slope[i] = 0.01f;
            planes.coverage[i] = unit(chance) < 0.8f ? 1.0f : 0.2f, planes.variance[i] = 0.01f * unit(chance);
        }
    planes.fillRim();
    return planes;
}

/// The light of one pixel as regression.h has it, by elimination with pivots in double.
double regressed(const FilterPlanes& p, int x, int y, int colour) {
    const auto apart = [&](int px, int py, int dx, int dy) {
        const std::size_t h = p.at(px, py), t = p.at(px + dx, py + dy);
        double squares = 0;
        for (int c = 0; c < 3; ++c) squares += std::pow(static_cast<double>(p.light[c][t]) - p.light[c][h], 2);
        const double mine = p.variance[h], other = p.variance[t];
        return (squares - mine - std::min(mine, other)) / (1.05 * 1.05 * (mine + other) + 1e-12);
    };
    double rows[7][8] = {}, all = 0;
    const std::size_t h = p.at(x, y);
    for (int dy = -5; dy <= 5; ++dy)
        for (int dx = -5; dx <= 5; ++dx) {
            const std::size_t t = p.at(x + dx, y + dy);
            double patch = 0, paint = 0, turned = 0, at[8];
            for (int v = -1; v <= 1; ++v)
                for (int u = -1; u <= 1; ++u) patch += apart(x + u, y + v, dx, dy) / 9;
            for (int c = 0; c < 3; ++c) {
                at[c] = static_cast<double>(p.albedo[c][t]) - p.albedo[c][h],
                at[3 + c] = static_cast<double>(p.normal[c][t]) - p.normal[c][h];
                paint += at[c] * at[c], turned += at[3 + c] * at[3 + c];
            }
            at[6] = 1, at[7] = p.light[colour][t];
            const double part = std::pow(static_cast<double>(p.coverage[t]) - p.coverage[h], 2);
            const double behind = std::abs(static_cast<double>(p.depth[t]) - p.depth[h]) /
                                  (p.slope[h] * std::max(std::abs(dx), std::abs(dy)) + 1e-3 * p.depth[h] + 1e-6);
            const double away = std::max(patch, 0.0) + 10 * paint + 3 * turned + 4 * part + 0.2 * behind;
            const double weight = std::pow(std::max(0.0, 1 - away / 8), 8);
            for (int i = 0; i < 7; ++i)
                for (int j = 0; j < 8; ++j) rows[i][j] += weight * at[i] * at[j];
            all += weight;
        }
    for (int i = 0; i < 6; ++i) rows[i][i] += 0.01 * all;
    for (int i = 0; i < 7; ++i) {
        int best = i;
        for (int k = i + 1; k < 7; ++k)
            if (std::abs(rows[k][i]) > std::abs(rows[best][i])) best = k;
        std::swap(rows[i], rows[best]);
        for (int k = i + 1; k < 7; ++k) {
            const double share = rows[k][i] / rows[i][i];
            for (int j = i; j < 8; ++j) rows[k][j] -= share * rows[i][j];
        }
    }
    return std::max(0.0, rows[6][7] / rows[6][6]);
}

TEST(NoiseFilter, LanesDoWhatIsWritten) {
    // Wider than what is worked out together, with rows left over.
    constexpr int width = 83, height = 6;
    const FilterPlanes planes = mottled(width, height);
    FilteredLight smooth;
    for (auto& plane : smooth) plane.resize(planes.depth.size());
    for (int y = 0; y < height; y += rowsRegressed) regressRows(planes, smooth, y, std::min(rowsRegressed, height - y));
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            for (int c = 0; c < 3; ++c)
                ASSERT_NEAR(smooth[static_cast<std::size_t>(c)][planes.at(x, y)], regressed(planes, x, y, c), 2e-4) << x << ", " << y;
}

TEST(NoiseFilter, LeavesWhatGoesWithItsColourAsItIs) {
    // Noisy light over a fine pattern of the surface's own colour: the pattern is in what comes out, the noise is not.
    Flat flat;
    const auto pattern = [](int x, int y) { return (x + y) % 2 ? 0.8f : 0.3f; };
    flat.expose(pattern, 0.2f, 16, pattern);
    const double before = off(developed(flat.film).light, flat.film, pattern),
                 after = off(filtered(flat.film, Progress()).light, flat.film, pattern);
    EXPECT_LT(after, before / 3);
}

TEST(Display, OfManyIsThatOfEachToTheBit) {
    std::vector<glm::vec3> light;
    for (int i = 0; i < 999; ++i) {
        const auto random = [&](std::uint32_t which) { return chance(5, static_cast<std::uint64_t>(i), which); };
        light.push_back(glm::vec3(random(0), random(1), random(2)) * std::exp2(8 * random(3) - 4) - glm::vec3(0.02f));
    }
    for (const DisplayTransform transform : {DisplayTransform::plain, DisplayTransform::soft})
        for (const float exposure : {0.3f, 1.0f, 2.5f}) {
            std::vector<glm::vec3> all = light;
            displayAll(all, exposure, transform);
            for (std::size_t i = 0; i < light.size(); ++i) EXPECT_EQ(all[i], display(light[i], exposure, transform)) << i;
        }
}

TEST(After, NothingOfItLeavesThePictureAsItIs) {
    LinearPicture p = plainPicture(32, 16);
    p.light[40] = {0.1f, 0.5f, 0.9f};
    const Image image = finish(p, plainSetting());
    EXPECT_NEAR(linearAt(image, 8, 1, 0), 0.1, 0.004);
    EXPECT_NEAR(linearAt(image, 8, 1, 2), 0.9, 0.004);
    EXPECT_NEAR(linearAt(image, 3, 3), 0.25, 0.004);
    EXPECT_EQ(image.pixels[3], 255);
}

TEST(After, BloomKeepsItsLight) {
    for (const int width : {64, 75}) {
        std::vector<glm::vec3> light(static_cast<std::size_t>(width * width), glm::vec3(0));
        const auto middle = static_cast<std::size_t>(width / 2 * width + width / 2);
        light[middle] = {100, 50, 10};
        bloom(light, width, width, 12, 0.4f);
        glm::dvec3 sum(0);
        for (const glm::vec3& c : light) sum += c;
        EXPECT_NEAR(sum.x, 100, 1);
        EXPECT_NEAR(sum.y, 50, 0.5);
        EXPECT_GE(light[middle].x, 60) << "what does not spread stays";
        EXPECT_GT(light[middle + 6].x, light[middle + 12].x);
        EXPECT_GT(light[middle + 6].x, 0);
    }
    std::vector<glm::vec3> even(40 * 30, glm::vec3(0.3f));
    bloom(even, 40, 30, 10, 0.5f);
    for (const glm::vec3& c : even) EXPECT_NEAR(c.x, 0.3f, 1e-4f) << "even light stays even, up to the edge";
}

TEST(After, FogIsWhatItsDepthSays) {
    Setting setting = plainSetting();
    setting.after.fog = true;
    setting.after.fogColour = {0.5f, 0.5f, 0.5f, 1};
    setting.after.fogStart = 2, setting.after.fogDepth = 6;
    LinearPicture p = plainPicture(8, 8);
    p.depth = std::vector<float>(64, 1);
    p.depth[1] = 8;    // one depth behind where it begins
    p.depth[2] = 200;  // nothing but fog
    const Image image = finish(p, setting);
    EXPECT_NEAR(linearAt(image, 0, 0), 0.25, 0.004);
    EXPECT_NEAR(linearAt(image, 1, 0), 0.5 - 0.25 * std::exp(-1.0), 0.004);
    EXPECT_NEAR(linearAt(image, 2, 0), 0.5, 0.004);
}

TEST(After, LinesAreAsWideAsAskedAndBelongToWhatIsNearer) {
    LinearPicture p = plainPicture(40, 40);
    for (int y = 0; y < 40; ++y)
        for (int x = 20; x < 40; ++x) p.id[static_cast<std::size_t>(y * 40 + x)] = 2, p.depth[static_cast<std::size_t>(y * 40 + x)] = 9;
    for (const float width : {2.0f, 4.0f, 6.0f}) {
        const auto lines = linesOf(p, width, 0.5f);
        double across = 0;
        for (int x = 0; x < 40; ++x) across += lines[static_cast<std::size_t>(20 * 40 + x)];
        EXPECT_NEAR(across, width, 0.05) << "the sum over the line is its width";
        EXPECT_GT(lines[20 * 40 + 18], lines[20 * 40 + 21]) << "the nearer side has it";
    }
    // A bend of the surface is one too, where it is sharp enough.
    LinearPicture bent = plainPicture(40, 40);
    for (int y = 20; y < 40; ++y)
        for (int x = 0; x < 40; ++x) bent.normal[static_cast<std::size_t>(y * 40 + x)] = {0, std::sin(0.8f), std::cos(0.8f)};
    EXPECT_GT(linesOf(bent, 1, std::cos(0.7f))[19 * 40 + 20], 0.3f);
    EXPECT_EQ(linesOf(bent, 1, std::cos(0.9f))[19 * 40 + 20], 0);
    Setting setting = plainSetting();
    setting.after.lines = EdgeLines::alone;
    setting.after.lineWidth = 3;
    setting.pictureWidth = setting.pictureHeight = 40;
    setting.background = {0.02f, 0.02f, 0.02f};
    const Image image = finish(p, setting);
    EXPECT_NEAR(linearAt(image, 19, 20, 0), 1, 0.15);
    EXPECT_NEAR(linearAt(image, 5, 20, 0), 0.02, 0.003) << "alone: only background beside";
}

TEST(After, BackgroundsAreColourGradientOrNothing) {
    Setting setting = plainSetting();
    setting.background = {0.1f, 0.1f, 0.1f};
    setting.after.above = {0.9f, 0.9f, 0.9f, 1};
    LinearPicture p = plainPicture(16, 64);
    std::fill(p.coverage.begin(), p.coverage.end(), 0.0f);
    std::fill(p.light.begin(), p.light.end(), glm::vec3(0));
    p.coverage[5] = 1, p.light[5] = glm::vec3(0.25f);
    p.coverage[6] = 0.5f, p.light[6] = glm::vec3(0.125f);
    EXPECT_NEAR(linearAt(finish(p, setting), 0, 10), 0.1, 0.003);
    setting.after.background = Background::gradient;
    const Image gradient = finish(p, setting);
    EXPECT_NEAR(linearAt(gradient, 0, 0), 0.9, 0.02);
    EXPECT_NEAR(linearAt(gradient, 0, 63), 0.1, 0.02);
    EXPECT_NEAR(linearAt(gradient, 0, 32), 0.5, 0.02);
    setting.after.background = Background::transparent;
    const Image clear = finish(p, setting);
    EXPECT_EQ(clear.pixels[3], 0);
    EXPECT_EQ(clear.pixels[4 * 5 + 3], 255);
    EXPECT_NEAR(linearAt(clear, 5, 0), 0.25, 0.004);
    EXPECT_NEAR(clear.pixels[4 * 6 + 3], 128, 1);
    EXPECT_NEAR(linearAt(clear, 6, 0), 0.25, 0.004) << "straight alpha: its own colour";
}

TEST(After, TheCornersLoseWhatIsAsked) {
    Setting setting = plainSetting();
    setting.after.vignette = 40;
    const Image image = finish(plainPicture(64, 64), setting);
    EXPECT_NEAR(linearAt(image, 32, 32), 0.25, 0.004);
    EXPECT_NEAR(linearAt(image, 0, 0), 0.25 * 0.6, 0.006);
}
