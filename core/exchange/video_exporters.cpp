// Videos, a kind for each codec: of pictures that are made for it, or of some that were exported before.
#include <cmath>
#include <optional>

#include "core/base/error.h"
#include "core/exchange/picture_maker.h"
#include "core/exchange/png.h"
#include "core/exchange/video_file.h"
#include "core/provide/sound_mix.h"

namespace gswarm {
namespace {

struct Video : ShownSettings {
    float quality, megabits;
    int repeats;
    bool sound;
    std::string pictures;
};

/// Where the pictures come from: each is one of the sizes that the codec takes.
class Source {
  public:
    virtual ~Source() = default;
    virtual std::pair<int, int> size() = 0;
    virtual void add(VideoFile& video, int frame, Progress& progress) = 0;
};

/// Traced, or drawn live.
class Made : public Source {
  public:
    Made(VideoCodec codec, const Video& video, const ExportFrames& frames)
        : codec_(codec), settings_(fitted(codec, video)), maker_(settings_, frames) {
        if (settings_.width != video.width || settings_.height != video.height)
            if (frames.told)
                frames.told("This kind of video takes even sizes alone: it is " + std::to_string(settings_.width) + " × " +
                            std::to_string(settings_.height) + " pixels.");
    }
    std::pair<int, int> size() override { return {settings_.width, settings_.height}; }
    void add(VideoFile& video, int frame, Progress& progress) override {
        // Codecs of 10 bits have room for more than a screen shows.
        const bool fine = codec_ == VideoCodec::proRes422 || codec_ == VideoCodec::proRes4444 || codec_ == VideoCodec::av1;
        if (fine)
            video.add(maker_.fine(frame, progress));
        else
            video.add(maker_.at(frame, progress));
    }

  private:
    static ShownSettings fitted(VideoCodec codec, ShownSettings settings) {
        checkTraceSize(settings.size());
        std::tie(settings.width, settings.height) = fittedTo(codec, settings.width, settings.height);
        return settings;
    }

    VideoCodec codec_;
    ShownSettings settings_;
    PictureMaker maker_;
};

/// A numbered sequence of PNG files. What an even size leaves over is cut off at the right and below.
class Read : public Source {
  public:
    Read(VideoCodec codec, std::filesystem::path path, const ExportFrames& frames) : path_(std::move(path)) {
        first_ = readPng(numbered(path_, frames.range.first));
        size_ = fittedTo(codec, first_.width, first_.height);
        if (size_ != std::pair{first_.width, first_.height} && frames.told)
            frames.told("This kind of video takes even sizes alone: the last column or row of the pictures is cut off.");
    }
    std::pair<int, int> size() override { return size_; }
    void add(VideoFile& video, int frame, Progress&) override {
        const std::filesystem::path file = numbered(path_, frame);
        Image16 image = readPng(file);
        if (image.width != first_.width || image.height != first_.height)
            throw Error("“" + file.filename().string() + "” is " + std::to_string(image.width) + " × " + std::to_string(image.height) +
                        " pixels, the first picture " + std::to_string(first_.width) + " × " + std::to_string(first_.height) +
                        "; nothing was written.");
        video.add(cut(std::move(image)));
    }

  private:
    Image16 cut(Image16 image) const {
        if (size_ == std::pair{image.width, image.height}) return image;
        Image16 smaller{size_.first, size_.second, {}};
        for (int y = 0; y < smaller.height; ++y) {
            const auto row = image.pixels.begin() + 4 * static_cast<std::ptrdiff_t>(y) * image.width;
            smaller.pixels.insert(smaller.pixels.end(), row, row + 4 * static_cast<std::ptrdiff_t>(smaller.width));
        }
        return smaller;
    }

    std::filesystem::path path_;
    Image16 first_;
    std::pair<int, int> size_;
};

/// The sound track beside the pictures, frame by frame, and once more for every repeat.
class SoundTrack {
  public:
    SoundTrack(const ExportFrames& frames, const VideoFormat& format)
        : frames_(frames), mix_(frames.scene, frames.options.projectFolder, frames.evaluator.store()) {
        samplesPerPicture_ = double(soundRate) * format.rateDenominator / format.rateNumerator;
    }
    bool empty() const { return mix_.empty(); }
    /// What is heard while a picture is seen.
    void add(VideoFile& video, int frame) {
        const auto end = static_cast<std::int64_t>(std::llround(double(++pictures_) * samplesPerPicture_));
        std::vector<float> stereo(static_cast<std::size_t>(2 * (end - written_)));
        mix_.mix(frame, end - written_, stereo.data());
        written_ = end;
        video.addSound(stereo);
    }
    void tell() const {
        if (frames_.told)
            for (const std::string& trouble : mix_.troubles()) frames_.told(trouble + " The video is without it.");
    }

  private:
    const ExportFrames& frames_;
    SoundMix mix_;
    double samplesPerPicture_;
    std::int64_t pictures_ = 0, written_ = 0;
};

void write(VideoCodec codec, const Video& video, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    std::unique_ptr<Source> source;
    if (video.pictures.empty())
        source = std::make_unique<Made>(codec, video, frames);
    else
        source = std::make_unique<Read>(codec, video.pictures, frames);
    VideoFormat format;
    format.codec = codec;
    std::tie(format.width, format.height) = source->size();
    std::tie(format.rateNumerator, format.rateDenominator) =
        rateFraction(std::get<std::string>(frames.scene.project().part("settings")["rate"]));
    format.rateDenominator *= frames.range.every;  // as fast as with all frames
    format.quality = video.quality;
    format.megabits = video.megabits;
    format.alpha = video.transparent && hasAlpha(codec);
    format.repeats = std::max(1, video.repeats);
    // Only what is to be heard is read, and told where it can't be.
    std::optional<SoundTrack> sound;
    if (video.sound) sound.emplace(frames, format);
    format.sound = sound && !sound->empty();
    VideoFile file(path, format);
    std::vector<int> seen;
    eachFrame(frames.range, progress, [&](int frame) {
        source->add(file, frame, progress);
        if (format.sound) sound->add(file, frame);
        seen.push_back(frame);
    });
    progress.say("finishing the video");
    if (format.sound)
        for (int again = 1; again < format.repeats; ++again)
            for (const int frame : seen) sound->add(file, frame);
    if (sound) sound->tell();
    file.commit();
}

struct Codec {
    VideoCodec codec;
    const char *id, *label, *ending, *summary, *found;
};

ExporterKind video(const Codec& codec) {
    DescribeExporter<Video> kind(ExportGroup::video, codec.id, codec.label, codec.ending, codec.summary);
    describeShown(kind);
    const bool chooses = codec.codec != VideoCodec::proRes422 && codec.codec != VideoCodec::proRes4444 && codec.codec != VideoCodec::gif;
    if (hasAlpha(codec.codec))
        kind.toggle("transparent", &Video::transparent, false, "Leaves the background out: an alpha channel says what is there");
    if (chooses)
        kind.number("quality", &Video::quality, 75, {0, 100},
                    "0 for the smallest file, 75 for what looks clean, 100 for nearly without loss")
            .unit("%")
            .hard(0, 100)
            .number("megabits", &Video::megabits, 0, {0, 50}, "A second of the video in megabits; 0 for as many as the quality takes")
            .unit("Mbit/s")
            .hard(0, 1000)
            .label("Bit rate");
    if (codec.codec != VideoCodec::gif)
        kind.whole("repeats", &Video::repeats, 1, {1, 1000},
                   "How often the frames are played through in the file, without making them again");
    if (hasSound(codec.codec)) kind.toggle("sound", &Video::sound, true, "The project's sounds are heard in it");
    kind.text("pictures", &Video::pictures, "",
              "NAME.png of a numbered sequence that was exported before: the video is made of these, and nothing is traced again")
        .label("From pictures");
    kind.found(codec.found);
    ExporterKind made = kind.kind();
    made.moves = true;
    made.write = [which = codec.codec](const void* settings, const ExportFrames& frames, const std::filesystem::path& path,
                                       Progress& progress) { write(which, *static_cast<const Video*>(settings), frames, path, progress); };
    return made;
}

}  // namespace

const ExporterKind h264Exporter =
    video({VideoCodec::h264, "h264", "H.264 (MP4)", ".mp4", "Plays everywhere. Without alpha.", "movie film mp4 avc encode animation"});
const ExporterKind h265Exporter =
    video({VideoCodec::h265, "h265", "H.265 (MP4)", ".mp4", "Half the size of H.264 at the same quality, for newer players. Without alpha.",
           "movie film mp4 hevc"});
const ExporterKind proRes422Exporter =
    video({VideoCodec::proRes422, "proRes422", "ProRes 422 HQ (MOV)", ".mov", "For cutting and grading: large, 10 bits, every frame whole.",
           "movie film mov quicktime edit"});
const ExporterKind proRes4444Exporter =
    video({VideoCodec::proRes4444, "proRes4444", "ProRes 4444 (MOV)", ".mov",
           "For compositing: as ProRes 422 with full colour, and with alpha if wanted.", "movie film mov alpha"});
const ExporterKind vp9Exporter =
    video({VideoCodec::vp9, "vp9", "VP9 (WebM)", ".webm", "For the web, with alpha if wanted.", "movie film webm web alpha"});
const ExporterKind av1Exporter = video(
    {VideoCodec::av1, "av1", "AV1 (WebM)", ".webm", "For the web: the smallest files, 10 bits. Without alpha.", "movie film webm web"});
const ExporterKind gifExporter =
    video({VideoCodec::gif, "gif", "GIF", ".gif", "Goes round for ever, 256 colours a frame; what is transparent has hard edges.",
           "movie animation loop web"});

}  // namespace gswarm
