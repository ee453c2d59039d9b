#include "app/sound/loudspeaker.h"

#include <algorithm>
#include <cmath>
#include <QAudioDevice>
#include <QAudioFormat>
#include <QAudioSink>
#include <QIODevice>
#include <QMediaDevices>
#include <vector>

namespace {

constexpr int rate = 48'000, bytesEach = 4;  // two numbers of 16 bits

QAudioFormat formatWanted() {
    QAudioFormat format;
    format.setSampleRate(rate);
    format.setChannelCount(2);
    format.setSampleFormat(QAudioFormat::Int16);
    return format;
}

/// Gives what is pulled as whole numbers of 16 bits, which every device takes.
class Pulled : public QIODevice {
  public:
    explicit Pulled(SoundDevice::Pull pull) : pull_(std::move(pull)) { open(QIODevice::ReadOnly); }
    bool isSequential() const override { return true; }
    qint64 bytesAvailable() const override { return 1 << 20; }

  private:
    qint64 readData(char* to, qint64 most) override {
        const qint64 count = most / bytesEach;
        samples_.assign(static_cast<std::size_t>(2 * count), 0.0f);
        pull_(samples_.data(), count);
        auto* out = reinterpret_cast<qint16*>(to);
        for (std::size_t i = 0; i < samples_.size(); ++i)
            out[i] = static_cast<qint16>(std::lround(32767 * std::clamp(samples_[i], -1.0f, 1.0f)));
        return count * bytesEach;
    }
    qint64 writeData(const char*, qint64) override { return -1; }

    SoundDevice::Pull pull_;
    std::vector<float> samples_;
};

}  // namespace

struct Loudspeaker::Output {
    Pulled from;
    QAudioSink sink;
    Output(const QAudioDevice& device, const Pull& pull) : from(pull), sink(device, formatWanted()) {
        sink.setBufferSize(rate / 10 * bytesEach);
    }
};

Loudspeaker::Loudspeaker() = default;
Loudspeaker::~Loudspeaker() = default;

bool Loudspeaker::start(const Pull& pull) {
    stop();
    const QAudioDevice device = QMediaDevices::defaultAudioOutput();
    if (device.isNull()) {
        trouble_ = "No loudspeaker was found: it plays silently.";
        return false;
    }
    if (!device.isFormatSupported(formatWanted())) {
        trouble_ = QString("“%1” takes no 48 000 samples a second: it plays silently.").arg(device.description());
        return false;
    }
    output_ = std::make_unique<Output>(device, pull);
    output_->sink.start(&output_->from);
    if (output_->sink.error() != QAudio::NoError) {
        trouble_ = QString("“%1” can't be opened: it plays silently.").arg(device.description());
        output_.reset();
        return false;
    }
    trouble_.clear();
    return true;
}

void Loudspeaker::stop() {
    if (output_) output_->sink.stop();
    output_.reset();
}

/// What was handed over, less what waits to be heard.
double Loudspeaker::heardSeconds() const {
    if (!output_) return 0;
    const double waits = double(output_->sink.bufferSize() - output_->sink.bytesFree()) / (rate * bytesEach);
    return std::max(0.0, static_cast<double>(output_->sink.processedUSecs()) / 1e6 - waits);
}
