#include "core/exchange/picture_maker.h"

#include "core/base/error.h"
#include "core/picture/filter.h"

namespace gswarm {

PictureMaker::PictureMaker(const ShownSettings& settings, const ExportFrames& frames)
    : settings_(settings), frames_(frames), tracer_(frames.tracer ? frames.tracer : std::make_shared<Tracer>()) {
    checkTraceSize(settings.size());
    if (settings.live && !frames.live.plain) throw Error("Live pictures can't be drawn here; leave “live” off and it is traced.");
}

template <class Draw>
auto PictureMaker::drawn(const Draw& draw, double frame, Progress& progress) {
    Setting setting = frames_.setting(frame);
    if (settings_.transparent) setting.after.background = Background::transparent;
    const DrawList list = frames_.at(frame, progress);
    progress.say("drawing the picture");
    return draw(list, setting, settings_.width, settings_.height);
}

Image PictureMaker::at(double frame, Progress& progress) {
    if (settings_.live) return drawn(frames_.live.plain, frame, progress);
    auto [light, setting] = lit(frame, progress);
    return finish(std::move(light), setting);
}

Image16 PictureMaker::fine(double frame, Progress& progress) {
    if (settings_.live) return drawn(frames_.live.fine, frame, progress);
    auto [light, setting] = lit(frame, progress);
    return finish16(std::move(light), setting);
}

std::pair<LinearPicture, Setting> PictureMaker::lit(double frame, Progress& progress) {
    Shot shot = frames_.shot(frame, progress);
    if (settings_.transparent)
        for (Setting& setting : shot.settings) setting.after.background = Background::transparent;
    const Film film = exposed(*tracer_, std::move(shot), settings_.size(), progress);
    return {settings_.filter ? filtered(film, progress) : developed(film), tracer_->shot().setting()};
}

}  // namespace gswarm
