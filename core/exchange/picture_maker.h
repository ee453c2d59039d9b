#pragma once
#include "core/exchange/exporter_kind.h"

/// What exporters of pictures and of video share: their settings, and how a frame is made with them.
namespace gswarm {

/// How a picture is traced.
struct TracedSettings {
    int width, height, samples, seed;
    float noise;
    bool filter;

    TraceSize size() const { return {width, height, samples, static_cast<std::uint32_t>(seed), noise / 100, filter}; }
};

/// How a picture that is displayed is made.
struct ShownSettings : TracedSettings {
    bool transparent, live;
};

template <class T>
void describeTraced(DescribeExporter<T>& kind) {
    kind.whole("width", &T::width, 1280, {1, 16384}, "Pixels across")
        .whole("height", &T::height, 720, {1, 16384}, "Pixels from top to bottom")
        .whole("samples", &T::samples, 64, {1, 4096},
               "Paths a pixel on average; they go where the grain is. More of them: less grain, more time")
        .whole("seed", &T::seed, 1, {0, 2147483647}, "Another seed, another grain")
        .number("noise", &T::noise, 0, {0, 10},
                "Where its error is below this share of white, a picture takes no more samples; 0 takes all")
        .unit("%")
        .hard(0, 100)
        .toggle("filter", &T::filter, false, "Smooths what noise is left, along surfaces")
        .label("Noise filter");
}

template <class T>
void describeShown(DescribeExporter<T>& kind) {
    describeTraced(kind);
    kind.toggle("live", &T::live, false, "Drawn as the live view draws: in a moment, with simpler light and no motion blur");
}

/// Makes displayed pictures one after the other.
class PictureMaker {
  public:
    /// Throws Error for sizes that can't be made, or where it should be drawn live and can't.
    PictureMaker(const ShownSettings& settings, const ExportFrames& frames);

    Image at(double frame, Progress& progress);
    Image16 fine(double frame, Progress& progress);

  private:
    /// What is lit at a frame, and what it is displayed with.
    std::pair<LinearPicture, Setting> lit(double frame, Progress& progress);
    template <class Draw>
    auto drawn(const Draw& draw, double frame, Progress& progress);

    ShownSettings settings_;
    const ExportFrames& frames_;
    std::shared_ptr<Tracer> tracer_;
};

}  // namespace gswarm
