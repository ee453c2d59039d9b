// Samples that are shared out by noise: how many there are, where they go, and that what they show is still right.
#include "core/picture/refinement.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numeric>

#include "core/base/parallel.h"
#include "tests/core/traced.h"

using namespace gswarm;
using making::Build, making::numbersOf, making::shotOf;

namespace {

constexpr TraceSize small{.width = 64, .height = 40};

/// Bricks of rough metal on a ground that is lit evenly: quiet below, noisy between them.
Tracer& bricks() {
    static Tracer tracer;
    if (tracer.shot().lists.empty()) {
        Build b = Build::grid(4, 2, 4);
        b.set(b.material, "metal", {1}).set(b.material, "roughness", {0.3});
        b.set(b.scene.all(ObjectType::camera).front(), "position", {0, 5, 9});
        Progress progress;
        tracer.show(shotOf(b), progress);
    }
    return tracer;
}

Film refined(const TraceSize& size, int mean) {
    Refinement picture(size, {0, 0, size.width, size.height});
    picture.refine(bricks(), mean, Progress());
    return std::move(picture).take();
}

Film even(const TraceSize& size, int samples) {
    Film film(size.width, size.height);
    bricks().expose(film, film.whole(), {.samples = samples, .seed = size.seed}, Progress());
    return film;
}

double meanSamples(const Film& film) {
    double sum = 0;
    for (const Film::Pixel& p : film.pixels) sum += p.samples;
    return sum / static_cast<double>(film.pixels.size());
}

double lightOf(const Film::Pixel& pixel) { return pixel.luminance / static_cast<float>(pixel.samples); }

/// The mean squared error on the screen.
double errorOf(const Film& film, const Film& reference) {
    double sum = 0;
    for (std::size_t i = 0; i < film.pixels.size(); ++i) {
        const auto shown = [](const Film::Pixel& p) { return std::pow(std::min(1.0, lightOf(p)), 1 / 2.2); };
        sum += std::pow(shown(film.pixels[i]) - shown(reference.pixels[i]), 2);
    }
    return sum / static_cast<double>(film.pixels.size());
}

}  // namespace

TEST(Refinement, AsManySamplesAsAskedForOnAverage) {
    for (const int mean : {1, 4, 6, 8, 16, 50}) {
        const Film film = refined(small, mean);
        EXPECT_NEAR(meanSamples(film), mean, (mean == 6 ? 0.05 : 0.01) * mean) << "in between doublings halves are rounded";
        for (const Film::Pixel& p : film.pixels) {
            EXPECT_GE(p.samples, static_cast<unsigned>(std::min(mean, std::max(4, mean / 5))));
            EXPECT_LE(p.samples, static_cast<unsigned>(std::max(mean, 8 * mean)));
        }
    }
}

TEST(Refinement, NoPixelTakesMoreThanDiffer) {
    constexpr TraceSize tiny{.width = 8, .height = 5};
    // What those can't take that want more goes to none: quiet ones don't need it.
    for (const int mean : {1500, 2048, 4096}) {
        const Film film = refined(tiny, mean);
        std::uint32_t most = 0;
        for (const Film::Pixel& p : film.pixels) most = std::max(most, p.samples);
        EXPECT_LE(most, 4096u);
        EXPECT_GE(most, std::min(1.2 * mean, 4096.0));
        EXPECT_NEAR(meanSamples(film), mean, (mean > 2048 ? 0.1 : 0.02) * mean);
    }
}

TEST(Refinement, TheyGoWhereTheNoiseIs) {
    const Film film = refined(small, 64), reference = even(small, 256);
    // The half of the pixels whose samples differ most, by far more of them than the film had.
    std::vector<std::size_t> order(film.pixels.size());
    std::iota(order.begin(), order.end(), 0u);
    const auto spread = [&](std::size_t i) { return varianceOf(reference.pixels[i]) / std::max(0.01, lightOf(reference.pixels[i])); };
    std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return spread(a) < spread(b); });
    double quiet = 0, noisy = 0;
    for (std::size_t k = 0; k < order.size() / 2; ++k) quiet += film.pixels[order[k]].samples;
    for (std::size_t k = order.size() / 2; k < order.size(); ++k) noisy += film.pixels[order[k]].samples;
    EXPECT_GT(noisy, 2 * quiet);
}

TEST(Refinement, TheErrorIsLessThanThatOfAsManyAlike) {
    TraceSize other = small;
    other.seed = 99;
    const Film reference = even(other, making::sanitized ? 192 : 1024);
    double shared = 0, alike = 0;
    for (std::uint32_t seed = 1; seed <= 3; ++seed) {
        TraceSize size = small;
        size.seed = seed;
        shared += errorOf(refined(size, 32), reference);
        alike += errorOf(even(size, 32), reference);
    }
    EXPECT_LT(shared, 0.8 * alike);
}

TEST(Refinement, NoLightIsLostByIt) {
    // Pictures of many seeds, as bright on the whole as those that have all samples alike.
    const auto whole = [](const Film& film) {
        double sum = 0;
        for (const Film::Pixel& p : film.pixels) sum += lightOf(p);
        return sum;
    };
    for (const int samples : {16, 64}) {
        std::vector<double> off;
        for (std::uint32_t seed = 1; seed <= (making::sanitized ? 6u : 60u); ++seed) {
            const TraceSize mine{.width = 32, .height = 20, .seed = seed}, other{.width = 32, .height = 20, .seed = seed + 1000};
            off.push_back(whole(refined(mine, samples)) / whole(even(other, samples)) - 1);
        }
        const double mean = std::accumulate(off.begin(), off.end(), 0.0) / static_cast<double>(off.size());
        double squares = 0;
        for (const double one : off) squares += (one - mean) * (one - mean);
        const double standardError = std::sqrt(squares / static_cast<double>(off.size() * (off.size() - 1)));
        EXPECT_LT(standardError, making::sanitized ? 0.01 : 0.002) << "else it would say nothing";
        // With more than 16 a pixel's own samples count, which takes a little.
        EXPECT_LT(std::abs(mean), 3 * standardError + (samples > 16 ? 0.002 : 0)) << samples;
    }
}

TEST(Refinement, StepsCancelsAndThreadsChangeNothing) {
    const std::vector<float> once = numbersOf(refined(small, 23));
    Refinement steps(small, {0, 0, small.width, small.height});
    for (const int mean : {1, 5, 6, 16, 17}) steps.refine(bricks(), mean, Progress());
    EXPECT_EQ(steps.mean(), 17);
    // Cancelled while it is under way, it goes on where it was.
    Progress progress;
    EXPECT_THROW(steps.refine(bricks(), 23, progress, [&](double) { progress.cancel(); }), Cancelled);
    EXPECT_EQ(steps.mean(), 17);
    steps.refine(bricks(), 23, Progress());
    EXPECT_EQ(numbersOf(steps.film()), once);
    Workers(1).run([&] { EXPECT_EQ(numbersOf(refined(small, 23)), once); });
}

TEST(Refinement, OfAPartTheRestStaysEmpty) {
    Refinement part(small, {16, 8, 24, 20});
    part.refine(bricks(), 32, Progress());
    double sum = 0;
    for (int y = 0; y < small.height; ++y)
        for (int x = 0; x < small.width; ++x) {
            const unsigned samples = part.film().at(x, y).samples;
            const bool inside = x >= 16 && x < 40 && y >= 8 && y < 28;
            EXPECT_EQ(samples > 0, inside) << x << ", " << y;
            sum += samples;
        }
    EXPECT_NEAR(sum / (24 * 20), 32, 0.5);
}

TEST(Refinement, WhereNothingStandsFewAreTaken) {
    Progress progress;
    Build b = Build::grid(1, 1, 1);
    const ObjectId camera = b.scene.all(ObjectType::camera).front();
    b.set(camera, "position", {0, 3, 9}).set(camera, "target", {0, 3, 0}).set(b.sky(), "ground", Value(false));
    Tracer tracer;
    const Film film = exposed(tracer, shotOf(b), {.width = 64, .height = 64, .samples = 64}, progress);
    EXPECT_EQ(film.at(2, 2).coverage, 0);
    EXPECT_LE(film.at(2, 2).samples, 16u);
    EXPECT_GE(film.at(2, 2).samples, 8u) << "else thin things would never be found";
    double sum = 0, pixels = 0;
    for (int y = 1; y + 1 < film.height; ++y)
        for (int x = 1; x + 1 < film.width; ++x) {
            bool something = false;
            for (int k = 0; k < 9; ++k) something = something || film.at(x - 1 + k % 3, y - 1 + k / 3).coverage > 0;
            if (something) sum += film.at(x, y).samples, ++pixels;
        }
    EXPECT_NEAR(sum / pixels, 64, 2) << "its samples are not taken from the others, nor given to them";
}

TEST(Refinement, TilesThatAreGoodEnoughTakeNoMore) {
    Progress progress;
    Build b = Build::grid(1, 1, 1);
    const ObjectId camera = b.scene.all(ObjectType::camera).front();
    b.set(camera, "position", {0, 3, 9}).set(camera, "target", {0, 3, 0}).set(b.sky(), "ground", Value(false));
    Tracer tracer;
    const Film film = exposed(tracer, shotOf(b), {.width = 64, .height = 64, .samples = 64, .noise = 0.004f}, progress);
    EXPECT_LE(film.at(2, 2).samples, 16u) << "nothing but background";
    std::uint32_t most = 0;
    for (const Film::Pixel& p : film.pixels) most = std::max(most, p.samples);
    EXPECT_GT(most, 16u) << "the box has noise";
}
