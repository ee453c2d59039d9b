#pragma once
#include <filesystem>
#include <memory>
#include <vector>

#include "core/base/image.h"
#include "core/exchange/video_format.h"

namespace gswarm {

/// A video while its pictures come in: there whole or not at all. It is encoded by a program of its own, `gswarm-encode`, beside whoever
/// makes the pictures; what goes wrong with one may be told with the next.
class VideoFile {
  public:
    /// Throws Error where it can't be written or the codec is not there.
    VideoFile(const std::filesystem::path& path, const VideoFormat& format);
    ~VideoFile();

    /// The next picture, sRGB-encoded and of the format's size. Throws Error.
    void add(const Image& image);
    void add(const Image16& image);
    /// The next samples of the sound track: 48 000 a second, two beside each other. As long as the video in the end, its repeats too;
    /// what is beyond full scale is held there. Throws Error.
    void addSound(const std::vector<float>& stereo);
    /// Puts it in its place. Throws Error.
    void commit();

  private:
    struct State;
    std::unique_ptr<State> state_;
};

}  // namespace gswarm
