#pragma once
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "core/exchange/video_format.h"

namespace gswarm {

/// A video while its pictures come in. Colours are sRGB-encoded and go through the matrix of Rec. 709, which the file tells. Encoders and
/// containers: FFmpeg's libraries. Throws Error with what happened, without the file's name. One that isn't finished must be left with its
/// process: some encoders wait for ever when they are let go before their end.
class VideoEncoder {
  public:
    VideoEncoder();
    ~VideoEncoder();

    /// Begins the file at `path`; the ending of `name` tells its container. Sound only where hasSound says so.
    void open(const std::filesystem::path& path, const std::string& name, const VideoFormat& format);
    /// The next picture of the format's size: R G B A in memory order, rows from the top.
    void add(const std::uint8_t* pixels);
    void add(const std::uint16_t* pixels);
    /// The next samples: two beside each other, soundRate a second. What is beyond full scale is held there.
    void addSound(const std::vector<float>& stereo);
    /// Writes what is left, the repeats and the end, and closes the file.
    void finish();

  private:
    struct State;
    std::unique_ptr<State> state_;
};

}  // namespace gswarm
