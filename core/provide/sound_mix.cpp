#include "core/provide/sound_mix.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/resolve/resolve.h"

namespace gswarm {

SoundMix::SoundMix(const Scene& scene, const std::filesystem::path& projectFolder, Store& store)
    : framesPerSecond_(momentAt(scene, 0).rate) {
    for (const ObjectId id : scene.all(ObjectType::sound)) {
        if (!resolve(scene, scene.at(id).part("laid"), 0).as<SoundLaid>().heard) continue;
        try {
            AskedSound asked = askSound(scene, id, 0, projectFolder, store);
            const SoundPart part = partOf(asked.laid, asked.sound);
            heard_.push_back({std::move(asked), part, scene.at(id).name});
        } catch (const Error& error) {
            troubles_.push_back(error.what());
        }
    }
}

void SoundMix::mix(double frame, std::int64_t count, float* stereo) {
    std::fill_n(stereo, 2 * count, 0.0f);
    for (Heard& one : heard_) {
        if (one.failed) continue;
        const auto from = static_cast<std::int64_t>(std::llround((frame - double(one.asked.laid.start)) / framesPerSecond_ * soundRate));
        const float gain = std::pow(10.0f, one.asked.laid.volume / 20);
        try {
            SoundRun(one.asked.sound, one.part).addStereo(from, count, gain, stereo);
        } catch (const Error& error) {
            one.failed = true;
            troubles_.push_back(error.what());
        }
    }
}

}  // namespace gswarm
