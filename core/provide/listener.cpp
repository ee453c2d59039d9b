#include "core/provide/listener.h"

#include "core/base/error.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

constexpr std::size_t mostKnown = 256;
/// A file may change; so often it is looked after.
constexpr auto looksAgain = std::chrono::seconds(1);

SoundReading readingOf(const SoundHeard& heard, ObjectId sound, std::string_view number) {
    SoundReading reading{};
    reading.sound = sound;
    reading.read = number == "level" ? SoundRead::level : number == "onsets" ? SoundRead::onsets : SoundRead::band;
    reading.low = number == "bass" ? 40.0f : number == "middle" ? 160.0f : number == "treble" ? 2500.0f : heard.low;
    reading.high = number == "bass" ? 160.0f : number == "middle" ? 2500.0f : number == "treble" ? 16000.0f : heard.high;
    reading.floor = heard.floor, reading.ceiling = heard.ceiling, reading.tilt = heard.tilt;
    reading.attack = heard.attack, reading.release = heard.release, reading.decay = heard.decay;
    reading.sensitivity = heard.sensitivity;
    return reading;
}

}  // namespace

void Listener::setFolder(const std::filesystem::path& projectFolder) {
    const std::lock_guard lock(mutex_);
    if (projectFolder == folder_) return;
    folder_ = projectFolder;
    known_.clear();
}

double Listener::heard(const Scene& scene, ObjectId sound, std::string_view number, double frame) const {
    const auto found = scene.objects.find(sound);
    if (found == scene.objects.end()) return 0;
    const double rate = momentAt(scene, 0).rate;
    const auto key = std::tuple(found->second.get(), std::string(number), rate);
    auto known = find(key);
    const auto stale = [&] { return !known || std::chrono::steady_clock::now() - known->asked > looksAgain; };
    if (std::this_thread::get_id() != neverWaits_ && stale()) {
        // One after the other: who asks for what another listens to waits for it.
        const std::lock_guard working(working_);
        known = find(key);
        if (stale()) known = listen(scene, found->second, number, known);
        const std::lock_guard lock(mutex_);
        if (known_.size() >= mostKnown) known_.clear();
        known_[key] = known;
    }
    return known && known->values ? double(known->values->at((frame - known->start) / rate, 0)) : 0;
}

std::shared_ptr<const Listener::Known> Listener::find(const Key& key) const {
    const std::lock_guard lock(mutex_);
    const auto found = known_.find(key);
    return found == known_.end() ? nullptr : found->second;
}

std::shared_ptr<const Listener::Known> Listener::listen(const Scene& scene, const std::shared_ptr<const Object>& sound,
                                                        std::string_view number, const std::shared_ptr<const Known>& before) const {
    const auto listened = std::make_shared<Known>();
    listened->sound = sound;
    try {
        const auto folder = [&] {
            const std::lock_guard lock(mutex_);
            return folder_;
        }();
        const AskedSound asked = askSound(scene, sound->id, 0, folder, store_);
        listened->key = asked.key, listened->start = double(asked.laid.start);
        const auto settings = resolve(scene, sound->part("heard"), 0);
        listened->values =
            before && before->key == asked.key
                ? before->values
                : std::make_shared<const HeardValues>(readingOf(settings.as<SoundHeard>(), sound->id, number), *asked.analysis(nullptr));
    } catch (const Error&) {
        // The sound's own settings say what is wrong; here it is silent.
    }
    listened->asked = std::chrono::steady_clock::now();
    return listened;
}

}  // namespace gswarm
