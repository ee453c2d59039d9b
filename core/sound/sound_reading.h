#pragma once
#include <memory>
#include <vector>

#include "core/base/moment.h"
#include "core/scene/describe.h"
#include "core/sound/spectrum.h"

/// A number that follows a sound, or one for each of its bands: for patterns, zones and numbers.
namespace gswarm {

class RailSource;

/// A sound of the project, ready to be asked what is in it.
struct AskedSound {
    SoundLaid laid;
    Sound sound;
    std::uint64_t key = 0;  ///< of all that its analysis is made from: the sound, the part and the frame rate
    /// Made when it is asked for and kept. Throws Error with a sentence.
    std::function<std::shared_ptr<const SoundAnalysis>(Progress*)> analysis;
};

enum class SoundRead { level, band, onsets, bands };
/// How many bands an octave has.
enum class BandsPerOctave { one, three, six };

/// How a sound is read: the settings that patterns and zones share.
struct SoundReading {
    ObjectId sound;
    SoundRead read;
    BandsPerOctave bands;
    float low, high;        ///< hertz, of one band
    float floor, ceiling;   ///< decibels that become 0 and 1
    float tilt;             ///< decibels an octave that are added above 1 kHz, and taken away below
    float attack, release;  ///< seconds; 0 for at once
    float decay;            ///< seconds in which a pulse falls to 1/e
    float sensitivity;      ///< percent: at 100 the weakest onset counts, at 0 only the strongest
};

/// Declares the settings. Only what tells instances apart reads all bands at once.
template <class T, class K>
void describeReading(Describe<T, K>& d, bool allBands) {
    d.reference("sound", &T::sound, {ObjectType::sound}, "The sound or the microphone that is listened to").label("Sound");
    std::vector<Choice> reads{{"level", "Level"}, {"band", "One band"}, {"onsets", "Onsets"}, {"bands", "All bands"}};
    if (!allBands) reads.pop_back();
    d.choice(
        "read", static_cast<SoundRead T::*>(&T::read), std::move(reads),
        allBands
            ? "How loud all of it is, how loud it is between two pitches, a pulse at each stroke or note that begins, or every band at once"
            : "How loud all of it is, how loud it is between two pitches, or a pulse at each stroke or note that begins");
    if (allBands)
        d.choice("bands", static_cast<BandsPerOctave T::*>(&T::bands),
                 {{"one", "1 an octave"}, {"three", "3 an octave"}, {"six", "6 an octave"}}, "9, 26 or 52 bands from 40 Hz to 16 kHz")
            .standard("three")
            .only("read", {"bands"});
    d.number("low", static_cast<float T::*>(&T::low), 60, {40, 2000}, "Where the band begins")
        .unit("Hz")
        .hard(20, 20000)
        .still()
        .only("read", {"band"})
        .label("From");
    d.number("high", static_cast<float T::*>(&T::high), 120, {40, 16000}, "Where it ends")
        .unit("Hz")
        .hard(20, 24000)
        .still()
        .only("read", {"band"})
        .label("To");
    d.number("floor", static_cast<float T::*>(&T::floor), -60, {-100, 0}, "How loud 0 is; a sine of full scale has 0 dB")
        .unit("dB")
        .hard(-200, 100)
        .still()
        .only("read", {"level", "band", "bands"});
    d.number("ceiling", static_cast<float T::*>(&T::ceiling), 0, {-60, 12}, "How loud 1 is")
        .unit("dB")
        .hard(-200, 100)
        .still()
        .only("read", {"level", "band", "bands"});
    d.number("tilt", static_cast<float T::*>(&T::tilt), 0, {0, 6},
             "Lifts high pitches for each octave above 1 kHz and lowers those below: at 0 hiss is even over all bands, at 3 most music is")
        .unit("dB")
        .hard(-24, 24)
        .still()
        .only("read", {"band", "bands"});
    d.number("attack", static_cast<float T::*>(&T::attack), 0, {0, 0.5}, "Seconds in which 63 % of a rise has arrived")
        .unit("s")
        .hard(0, 1000)
        .still()
        .only("read", {"level", "band", "bands"});
    d.number("release", static_cast<float T::*>(&T::release), 0.15, {0, 2}, "Seconds in which 63 % of a fall has arrived")
        .unit("s")
        .hard(0, 1000)
        .still()
        .only("read", {"level", "band", "bands"});
    d.number("decay", static_cast<float T::*>(&T::decay), 0.2, {0.02, 2}, "Seconds in which a pulse has lost 63 %")
        .unit("s")
        .hard(0, 1000)
        .still()
        .only("read", {"onsets"});
    d.number("sensitivity", static_cast<float T::*>(&T::sensitivity), 70, {0, 100},
             "At 100 % the weakest onset counts, at 0 % only the strongest")
        .unit("%")
        .hard(0, 100)
        .still()
        .only("read", {"onsets"});
}

/// What is read of a sound, at any frame of the project; between whole moments straight from one to the next.
class HeardValues {
  public:
    /// All values from its beginning, so that any way to a frame gives the same. `framesPerSecond` is the project's.
    HeardValues(const SoundReading& reading, const SoundAnalysis& analysis);
    /// 1, or how many bands there are.
    int columns() const { return columns_; }
    /// At seconds after the beginning of the part.
    float at(double seconds, int column) const {
        double moment = seconds * perSecond_;
        if (repeats_) {
            moment = std::fmod(moment, double(moments_));
            if (moment < 0) moment += moments_;
        }
        // Nothing was heard before it began, and what is heard last fades.
        const double below = std::floor(moment);
        const auto share = static_cast<float>(moment - below);
        const float here = value(static_cast<std::int64_t>(below), column);
        return share == 0 ? here : here + share * (value(static_cast<std::int64_t>(below) + 1, column) - here);
    }
    std::size_t bytes() const { return sizeof *this + values_.size() * sizeof(float); }

  private:
    float value(std::int64_t moment, int column) const {
        if (repeats_ && moment == moments_) moment = 0;
        if (moment < 0 || moment >= moments_) return 0;
        return values_[static_cast<std::size_t>(moment) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(column)];
    }

    int columns_ = 1;
    std::int64_t moments_ = 0;
    double perSecond_ = 1;
    bool repeats_ = false;
    std::vector<float> values_;
};

/// The power of one band in decibels: of its density, times a band of so many octaves around 1 kHz, so that hiss has the same in all;
/// with `tilt` decibels added an octave. 10 log₁₀ 2 as tilt gives the power of a band of that width.
double bandDecibels(const float* sixthPowers, double low, double high, double octaves, double tilt);

/// Where the bands lie, hertz: one more than there are bands.
std::vector<double> bandEdges(BandsPerOctave bands);

/// A sound's values, kept in the rail's store, and where its beginning lies.
struct HeardSound {
    std::shared_ptr<const HeardValues> values;
    double start = 0, rate = 25;  ///< frame of its beginning, frames a second

    float at(double frame, int column) const { return values->at((frame - start) / rate, column); }
};
/// Throws Error with a sentence where there is no sound.
HeardSound hear(const SoundReading& reading, const RailSource& source);

}  // namespace gswarm
