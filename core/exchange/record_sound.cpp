#include "core/exchange/record_sound.h"

#include <sndfile.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <vector>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/provide/sounds.h"

namespace gswarm {
namespace {

struct ClosesSound {
    void operator()(SNDFILE* file) const { sf_close(file); }
};

}  // namespace

void recordSound(const Scene& scene, ObjectId sound, const FrameRange& range, const std::filesystem::path& projectFolder, Store& store,
                 const std::filesystem::path& path, Progress& progress) {
    const std::string ending = lowered(path.extension().string()), name = path.filename().string();
    if (ending != ".flac" && ending != ".wav") throw Error("“" + name + "” can't be recorded: its ending must be .flac or .wav.");
    const AskedSound asked = askSound(scene, sound, range.first, projectFolder, store);
    const double rate = momentAt(scene, 0).rate;
    const auto sampleOf = [&](double frame) {
        return static_cast<std::int64_t>(std::llround((frame - double(asked.laid.start)) / rate * soundRate));
    };
    const std::int64_t first = sampleOf(range.first), last = sampleOf(range.first + double(range.count()) * range.every);
    AtomicFile file(path);
    SF_INFO info{};
    info.samplerate = soundRate;
    info.channels = 2;
    info.format = ending == ".flac" ? SF_FORMAT_FLAC | SF_FORMAT_PCM_24 : SF_FORMAT_WAV | SF_FORMAT_FLOAT;
    std::unique_ptr<SNDFILE, ClosesSound> out(sf_open(file.unfinished().c_str(), SFM_WRITE, &info));
    const auto failed = [&] { throw Error("“" + name + "” could not be written; nothing was kept. Check the folder and the space left."); };
    if (!out) failed();
    // Whole numbers end at full scale; what is louder is held there.
    sf_command(out.get(), SFC_SET_CLIPPING, nullptr, SF_TRUE);
    SoundRun run(asked.sound, partOf(asked.laid, asked.sound));
    std::vector<float> stereo;
    for (std::int64_t at = first; at < last; at += soundRate) {
        progress.check();
        const std::int64_t count = std::min<std::int64_t>(soundRate, last - at);
        stereo.assign(static_cast<std::size_t>(2 * count), 0.0f);
        run.addStereo(at, count, 1, stereo.data());
        if (sf_writef_float(out.get(), stereo.data(), count) != count) failed();
        progress.report(double(at + count - first) / double(last - first));
    }
    if (sf_close(out.release()) != 0) failed();
    file.commit();
}

}  // namespace gswarm
