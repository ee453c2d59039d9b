#include "app/settings/sound_picture.h"

#include <algorithm>
#include <cmath>
#include <QPainter>

#include "app/theme/theme.h"
#include "core/base/error.h"
#include "core/provide/sounds.h"

using namespace gswarm;

namespace {

constexpr int high = 64;
constexpr double quietest = -60, tilt = 3;

QImage bandsOf(const AskedSound& asked, const SoundAnalysis& heard, double frame, double rate, double from, double to) {
    QImage image(MomentPicture::mostAcross, high, QImage::Format_RGB888);
    image.fill(theme::ink);
    QPainter painter(&image);
    double moment = std::floor((frame - double(asked.laid.start)) / rate / heard.step + 0.5);
    if (heard.repeats) moment -= heard.moments * std::floor(moment / heard.moments);
    const bool sounds = moment >= 0 && moment < heard.moments;
    const std::vector<double> edges = bandEdges(BandsPerOctave::three);
    const double wide = double(image.width()) / (double(edges.size()) - 1);
    for (std::size_t b = 0; b + 1 < edges.size(); ++b) {
        const double level =
            sounds ? bandDecibels(&heard.bands[static_cast<std::size_t>(moment) * sixths], edges[b], edges[b + 1], 1.0 / 3, tilt)
                   : quietest;
        const double share = std::clamp((level - quietest) / -quietest, 0.0, 1.0);
        const bool listened = edges[b] < to && edges[b + 1] > from;
        const double tall = std::max(1.0, share * (high - 12));
        painter.fillRect(QRectF(wide * double(b) + 1, high - 11 - tall, wide - 2, tall), listened ? theme::verdigris : theme::line);
    }
    painter.setPen(theme::quiet);
    painter.setFont(theme::numbers(9));
    for (const auto& [hertz, text] : {std::pair{100.0, "100"}, {1000.0, "1 kHz"}, {10000.0, "10 kHz"}}) {
        const double x = wide * 3 * std::log2(hertz / 40);
        painter.drawText(QRectF(x - 24, high - 10, 48, 10), Qt::AlignCenter, text);
    }
    return image;
}

}  // namespace

SoundPicture::SoundPicture(Document& document, Store& store, ObjectId sound, double low, double high, QWidget* parent)
    : MomentPicture(
          document, sound,
          [&store, low, high](const Moment& moment, Progress& progress) {
              Told told;
              try {
                  const AskedSound asked = askSound(moment.scene, moment.thing, moment.frame, moment.folder, store);
                  told.picture =
                      bandsOf(asked, *asked.analysis(&progress), moment.frame, momentAt(moment.scene, moment.frame).rate, low, high);
                  told.sentence = QString::fromStdString(soundTold(moment.scene, moment.thing, moment.folder, store));
              } catch (const Error& error) {
                  told.sentence = QString::fromStdString(error.what());
              }
              return told;
          },
          parent) {
    setNames("soundPicture", "soundTold");
}
