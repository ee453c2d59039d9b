#pragma once
#include <memory>

#include "app/sound/sound_device.h"

/// The loudspeaker that the system calls its usual one.
class Loudspeaker : public SoundDevice {
  public:
    Loudspeaker();
    ~Loudspeaker() override;
    bool start(const Pull& pull) override;
    void stop() override;
    double heardSeconds() const override;
    QString trouble() const override { return trouble_; }

  private:
    struct Output;
    std::unique_ptr<Output> output_;
    QString trouble_;
};
