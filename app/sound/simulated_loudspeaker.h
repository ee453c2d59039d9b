#pragma once
#include <vector>

#include "app/sound/sound_device.h"

/// A loudspeaker that is not there: it takes samples when it is told that time has passed, and keeps what came last. Its clock may go
/// wrong by a little, as those of real ones do.
class SimulatedLoudspeaker : public SoundDevice {
  public:
    /// Samples that it takes in one of our seconds.
    explicit SimulatedLoudspeaker(double samplesPerSecond = 48'000) : rate_(samplesPerSecond) {}

    bool start(const Pull& pull) override;
    void stop() override { pull_ = nullptr; }
    double heardSeconds() const override { return static_cast<double>(taken_) / 48'000; }
    QString trouble() const override { return "Simulated: nothing is heard."; }

    bool running() const { return static_cast<bool>(pull_); }
    void pass(double seconds);
    /// What was taken last, two channels beside each other.
    const std::vector<float>& last() const { return last_; }

  private:
    double rate_, owed_ = 0;
    std::int64_t taken_ = 0;
    Pull pull_;
    std::vector<float> last_;
};
