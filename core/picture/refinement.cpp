#include "core/picture/refinement.h"

#include <algorithm>
#include <cmath>
#include <new>

#include "core/base/parallel.h"
#include "core/picture/sobol.h"

namespace gswarm {

namespace {

constexpr int firstSamples = 4;       ///< of all pixels alike, before noise is looked at
constexpr int leastSamples = 16;      ///< before a tile can be good enough, and before a pixel's own spread is believed
constexpr double alike = 0.25;        ///< the part of the samples that no pixel goes without
constexpr double mostTimesMean = 8;   ///< that a pixel gets
constexpr float leastSpread = 1e-4f;  ///< of white, so that where all is quiet all are alike

/// In place of a spread: nothing more is wanted, and nothing stands there.
constexpr float isGood = 0, isEmpty = -1;

/// Chance can spare a tile what its neighbours have: with them in sight it is judged by more samples.
bool goodEnough(const Film& film, const PixelRect& part, float exposure, float wanted) {
    const PixelRect around{part.x - traceTile / 2, part.y - traceTile / 2, part.width + traceTile, part.height + traceTile};
    return noiseOf(film, part, exposure) <= wanted && noiseOf(film, cutTo(around, film.whole()), exposure) <= 1.5f * wanted;
}

bool somethingAround(const Film& film, int x, int y) {
    for (int v = std::max(y - 1, 0); v <= std::min(y + 1, film.height - 1); ++v)
        for (int u = std::max(x - 1, 0); u <= std::min(x + 1, film.width - 1); ++u)
            if (film.at(u, v).coverage > 0) return true;
    return false;
}

}  // namespace

Refinement::Refinement(const TraceSize& wanted, const PixelRect& part, const Layering& layering)
    : film_(wanted.width, wanted.height), part_(part), wanted_(wanted), layering_(layering), end_(firstSamples) {
    addLayers(film_, layering_);
    try {
        shares_.assign(film_.pixels.size(), {0, firstSamples, 0});
        now_.resize(film_.pixels.size());
    } catch (const std::bad_alloc&) {
        throw tooLargeForMemory(film_.width, film_.height);
    }
}

std::int64_t Refinement::refine(const Tracer& tracer, int mean, const Progress& progress, const std::function<void(double)>& report) {
    std::int64_t rays = 0;
    for (const int first = mean_; mean_ < mean;) {
        if (mean_ == end_) share(tracer.shot().setting().exposure);
        const int to = std::min(mean, end_), all = end_ - begin_;
        for (std::size_t i = 0; i < now_.size(); ++i)
            now_[i] = static_cast<std::uint16_t>(shares_[i].had + (shares_[i].more * (to - begin_) + all / 2) / all);
        const auto reportStep = [&](double share) { report((mean_ - first + share * (to - mean_)) / (mean - first)); };
        rays += tracer.expose(film_, part_, {.each = now_, .seed = wanted_.seed}, progress, report ? reportStep : report, layering_);
        mean_ = to;
    }
    return rays;
}

void Refinement::share(float exposure) {
    begin_ = end_;
    end_ *= 2;
    const auto tiles = tracedTiles(part_);
    std::vector<Found> found(tiles.size());
    forEach(tiles.size(), [&](std::size_t t) { found[t] = lookAt(tiles[t], exposure); });
    Found all;
    for (const Found& one : found) all.spread += one.spread, all.pixels += one.pixels;

    const double meanSpread = all.spread / static_cast<double>(std::max<std::size_t>(all.pixels, 1));
    const auto lacks = [&](const Share& pixel) {
        if (pixel.spread == isGood) return 0.0;
        const double part = pixel.spread == isEmpty ? 0 : (1 - alike) * pixel.spread / meanSpread;
        const double wanted = std::min<double>(std::min(alike + part, mostTimesMean) * end_, Sobol::most);
        return std::max(0.0, wanted - pixel.had);
    };
    double sum = 0;
    for (Share& pixel : shares_)
        if (pixel.spread > 0) sum += lacks(pixel);
    const double scale = sum > 0 ? static_cast<double>(all.pixels) * (end_ - begin_) / sum : 0;
    double left = 0;
    for (Share& pixel : shares_) {
        pixel.more = 0;
        const double wants = lacks(pixel) * (pixel.spread > 0 ? scale : 1);
        if (wants == 0) continue;
        // What a pixel can't be given of one sample goes to the next that wants any.
        const double whole = std::floor(wants + left);
        left += wants - whole;
        pixel.more = static_cast<std::uint16_t>(std::min<double>(whole, Sobol::most - pixel.had));
    }
}

Refinement::Found Refinement::lookAt(const PixelRect& tile, float exposure) {
    Found found;
    const bool good = wanted_.noise > 0 && begin_ >= leastSamples && goodEnough(film_, tile, exposure, wanted_.noise);
    for (int y = tile.y; y < tile.y + tile.height; ++y)
        for (int x = tile.x; x < tile.x + tile.width; ++x) {
            Share& pixel = shares_[film_.indexOf(x, y)];
            pixel.had = static_cast<std::uint16_t>(film_.at(x, y).samples);
            if (good)
                pixel.spread = isGood;
            else if (!somethingAround(film_, x, y))
                pixel.spread = isEmpty;
            else
                found.spread += pixel.spread = leastSpread + spreadAround(film_, x, y, exposure, begin_ >= leastSamples), ++found.pixels;
        }
    return found;
}

}  // namespace gswarm
