#pragma once
#include <string>
#include <utility>

namespace gswarm {

enum class VideoCodec { h264, h265, proRes422, proRes4444, vp9, av1, gif };

struct VideoFormat {
    VideoCodec codec = VideoCodec::h264;
    int width = 0, height = 0;  ///< pixels, see fittedTo
    int rateNumerator = 25, rateDenominator = 1;
    double quality = 75;  ///< percent, where the codec has a choice and no bit rate is given
    double megabits = 0;  ///< a second; 0 for as many as the quality takes
    bool alpha = false;   ///< where the codec has it
    int repeats = 1;      ///< how often it is played through in the file; a GIF goes round for ever
    bool sound = false;   ///< with a sound track, where the codec's container has one
};

bool hasAlpha(VideoCodec codec);
bool hasSound(VideoCodec codec);
/// The next smaller size that the codec can hold: most take even numbers alone.
std::pair<int, int> fittedTo(VideoCodec codec, int width, int height);
/// A rate as its exact fraction, from text as the project has it: "25", "23.976" or "30000/1001".
std::pair<int, int> rateFraction(const std::string& text);

}  // namespace gswarm
