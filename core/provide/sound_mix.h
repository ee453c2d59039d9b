#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include "core/provide/sounds.h"

namespace gswarm {

/// All sounds of a project that are heard, together as they lie in time: for loudspeakers and for videos.
class SoundMix {
  public:
    /// Sounds that can't be read are left out, and told.
    SoundMix(const Scene& scene, const std::filesystem::path& projectFolder, Store& store);
    bool empty() const { return heard_.empty(); }
    /// What could not be read, one sentence each.
    const std::vector<std::string>& troubles() const { return troubles_; }
    /// `count` samples of two channels beside each other from a frame of the project on; above full scale where many are loud at once.
    /// Not from two threads at once. A sound that fails on the way is silent from there on, and told.
    void mix(double frame, std::int64_t count, float* stereo);

  private:
    struct Heard {
        AskedSound asked;
        SoundPart part;
        std::string name;
        bool failed = false;
    };
    double framesPerSecond_;
    std::vector<Heard> heard_;
    std::vector<std::string> troubles_;
};

}  // namespace gswarm
