#pragma once
#include <cstdint>
#include <functional>
#include <QString>

/// Something that takes samples at a rate of its own: a loudspeaker, or what stands in for one.
class SoundDevice {
  public:
    /// Fills `count` samples of two channels beside each other, 48 000 a second. Called from any thread; never waits.
    using Pull = std::function<void(float* stereo, std::int64_t count)>;

    virtual ~SoundDevice() = default;
    /// Begins to pull. False where that can't be: `trouble` says why.
    virtual bool start(const Pull& pull) = 0;
    virtual void stop() = 0;
    /// Seconds that were heard since it was started, by its own count of samples.
    virtual double heardSeconds() const = 0;
    virtual QString trouble() const = 0;
};
