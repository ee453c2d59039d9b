#include "companions/decode/clip_reader.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/display.h>
#include <libavutil/pixdesc.h>
}
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <deque>
#include <optional>

#include "companions/decode/upright_pictures.h"
#include "core/base/error.h"

namespace gswarm {
namespace {

constexpr int readAhead = 1 << 16;
constexpr std::size_t keptBytes = std::size_t{256} << 20;
constexpr std::size_t mostKept = 64;

/// Containers of clips, by FFmpeg's names; none of those that name other files.
constexpr const char* containers = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,gif,apng,mpegts,mpeg,ogg,mxf,flv,asf,nut,ivf,m4v,h264,hevc";

struct Closes {
    void operator()(AVFormatContext* one) const { avformat_close_input(&one); }
};
struct ClosesContext {
    void operator()(AVIOContext* one) const {
        av_freep(&one->buffer);
        avio_context_free(&one);
    }
};
template <class T, void (*release)(T**)>
struct Releases {
    void operator()(T* one) const { release(&one); }
};
using Decoder = std::unique_ptr<AVCodecContext, Releases<AVCodecContext, avcodec_free_context>>;
/// Held by those that keep it and those that read it.
using Frame = std::shared_ptr<AVFrame>;
Frame newFrame() { return {av_frame_alloc(), Releases<AVFrame, av_frame_free>()}; }
using Packet = std::unique_ptr<AVPacket, Releases<AVPacket, av_packet_free>>;

int readSome(void* opaque, std::uint8_t* to, int size) {
    const ssize_t got = ::read(*static_cast<int*>(opaque), to, static_cast<std::size_t>(size));
    return got > 0 ? static_cast<int>(got) : got == 0 ? AVERROR_EOF : AVERROR(EIO);
}

std::int64_t seekTo(void* opaque, std::int64_t place, int whence) {
    const int file = *static_cast<int*>(opaque);
    if (whence == AVSEEK_SIZE) {
        struct stat about {};
        return ::fstat(file, &about) == 0 ? about.st_size : -1;
    }
    return ::lseek(file, place, whence & ~AVSEEK_FORCE);
}

int opensNothing(AVFormatContext*, AVIOContext**, const char*, int, AVDictionary**) { return AVERROR(EACCES); }

/// A picture in the file: when it begins, in the stream's own units, and where decoding may begin.
struct Listed {
    std::int64_t time;
    bool whole;
};

/// A file that is open, at its beginning.
struct Opened {
    std::unique_ptr<AVIOContext, ClosesContext> bytes;
    std::unique_ptr<AVFormatContext, Closes> container;
    int stream = -1;
};

[[noreturn]] void damaged() { throw Error("is damaged, or no clip that can be read; choose another file, or export it anew"); }

Opened openAt(int* file) {
    if (::lseek(*file, 0, SEEK_SET) != 0) throw Error("can't be read");
    Opened opened;
    opened.bytes.reset(avio_alloc_context(static_cast<std::uint8_t*>(av_malloc(readAhead)), readAhead, 0, file, readSome, nullptr, seekTo));
    AVFormatContext* made = avformat_alloc_context();
    made->pb = opened.bytes.get();
    made->flags |= AVFMT_FLAG_CUSTOM_IO;
    made->io_open = opensNothing;
    made->max_streams = 64;
    AVDictionary* options = nullptr;
    av_dict_set(&options, "format_whitelist", containers, 0);
    const int failed = avformat_open_input(&made, nullptr, nullptr, &options);
    av_dict_free(&options);
    if (failed < 0) damaged();
    opened.container.reset(made);
    if (avformat_find_stream_info(made, nullptr) < 0) damaged();
    opened.stream = av_find_best_stream(made, AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
    if (opened.stream < 0 || (made->streams[opened.stream]->disposition & AV_DISPOSITION_ATTACHED_PIC))
        throw Error("has no moving picture in it; choose another file");
    return opened;
}

}  // namespace

struct ClipReader::State {
    int file;
    std::size_t mostBytes;
    std::function<void()> alive;
    ClipFacts facts;
    Opened opened;
    Decoder decoder;
    std::unique_ptr<UprightPictures> upright;
    std::vector<Listed> listed;  ///< by their time
    std::int64_t next = -1;      ///< the picture after the one decoded last; −1 for none yet
    bool fed = false;            ///< the decoder knows that no more comes
    std::deque<std::pair<std::int64_t, Frame>> kept;

    State(int from, std::size_t bytes, std::function<void()> tell) : file(from), mostBytes(bytes), alive(std::move(tell)) {
        av_log_set_level(AV_LOG_QUIET);
        opened = openAt(&file);
        list();
        opened = openAt(&file);
        openDecoder();
    }

    AVStream& stream() { return *opened.container->streams[opened.stream]; }

    /// Notes when each picture begins, without decoding any.
    void list() {
        AVFormatContext* container = opened.container.get();
        for (unsigned s = 0; s < container->nb_streams; ++s) {
            if (container->streams[s]->codecpar->codec_type == AVMEDIA_TYPE_AUDIO) facts.sound = true;
            if (static_cast<int>(s) != opened.stream) container->streams[s]->discard = AVDISCARD_ALL;
        }
        const Packet packet(av_packet_alloc());
        const AVRational rate = av_guess_frame_rate(container, &stream(), nullptr);
        const AVRational unit = stream().time_base;
        // What has no time is taken to follow at the clip's own rate.
        const std::int64_t usual =
            rate.num > 0 && rate.den > 0 && unit.num > 0 ? std::max<std::int64_t>(1, av_rescale_q(1, av_inv_q(rate), unit)) : 1;
        std::int64_t following = 0, longest = usual;
        std::size_t packets = 0;
        while (av_read_frame(container, packet.get()) >= 0) {
            if (++packets % 256 == 0) alive();
            if (packets > 16 * mostClipPictures) break;
            const bool ours = packet->stream_index == opened.stream && packet->size > 0;
            if (ours && !(packet->flags & AV_PKT_FLAG_DISCARD)) {
                const std::int64_t time = packet->pts != AV_NOPTS_VALUE   ? packet->pts
                                          : packet->dts != AV_NOPTS_VALUE ? packet->dts
                                                                          : following;
                if (std::abs(time) > std::int64_t{1} << 60) damaged();
                listed.push_back({time, (packet->flags & AV_PKT_FLAG_KEY) != 0});
                longest = packet->duration > 0 ? packet->duration : usual;
                following = time + longest;
            }
            av_packet_unref(packet.get());
            if (listed.size() > mostClipPictures) throw Error("has more than 2 000 000 pictures; cut it into shorter clips");
        }
        if (listed.empty()) damaged();
        std::stable_sort(listed.begin(), listed.end(), [](const Listed& a, const Listed& b) { return a.time < b.time; });
        listed.erase(std::unique(listed.begin(), listed.end(), [](const Listed& a, const Listed& b) { return a.time == b.time; }),
                     listed.end());
        listed.front().whole = true;
        const double second = unit.num > 0 && unit.den > 0 ? av_q2d(unit) : 1.0 / 25;
        for (const Listed& one : listed) facts.begins.push_back(static_cast<double>(one.time - listed.front().time) * second);
        facts.seconds =
            facts.begins.back() + std::max(1e-6, static_cast<double>(std::clamp<std::int64_t>(longest, 1, std::int64_t{1} << 60)) * second);
        if (!std::isfinite(facts.seconds) || facts.seconds > 1e7) damaged();
    }

    void openDecoder() {
        const AVCodecParameters* what = stream().codecpar;
        const AVCodec* codec = avcodec_find_decoder(what->codec_id);
        if (!codec)
            throw Error(std::string("is encoded as ") + avcodec_get_name(what->codec_id) +
                        ", which can't be read here; convert it to another kind");
        facts.codec = avcodec_get_name(what->codec_id);
        if (what->width <= 0 || what->height <= 0) damaged();
        upright = std::make_unique<UprightPictures>(*what, av_guess_sample_aspect_ratio(opened.container.get(), &stream(), nullptr),
                                                    av_stream_get_side_data(&stream(), AV_PKT_DATA_DISPLAYMATRIX, nullptr));
        facts.width = upright->width(), facts.height = upright->height(), facts.deep = upright->deep();
        const std::size_t coded = static_cast<std::size_t>(what->width) * static_cast<std::size_t>(what->height);
        if (std::max({facts.width, facts.height, what->width, what->height}) > longestClipSide || coded > mostClipPixels ||
            static_cast<std::size_t>(facts.width) * static_cast<std::size_t>(facts.height) > mostClipPixels)
            throw Error("has pictures of " + std::to_string(what->width) + " × " + std::to_string(what->height) +
                        " pixels; at most 64 million are read, 16 384 a side");
        if (facts.pictureBytes() > mostBytes) throw Error("has pictures that take more memory than the limit in Preferences");
        decoder.reset(avcodec_alloc_context3(codec));
        if (!decoder || avcodec_parameters_to_context(decoder.get(), what) < 0) damaged();
        decoder->thread_count = 2;
        decoder->max_pixels = mostClipPixels;
        decoder->pkt_timebase = stream().time_base;
        if (avcodec_open2(decoder.get(), codec, nullptr) < 0) damaged();
        for (unsigned s = 0; s < opened.container->nb_streams; ++s)
            if (static_cast<int>(s) != opened.stream) opened.container->streams[s]->discard = AVDISCARD_ALL;
        next = 0;
        fed = false;
    }

    /// The number of the picture that begins at a time or is on then.
    std::int64_t numberAt(std::int64_t time) const {
        const auto behind =
            std::upper_bound(listed.begin(), listed.end(), time, [](std::int64_t t, const Listed& one) { return t < one.time; });
        return std::max<std::int64_t>(0, behind - listed.begin() - 1);
    }

    /// Decodes the picture that follows; nothing at the end. Returns its number.
    std::optional<std::int64_t> decodeNext(AVFrame* frame) {
        const Packet packet(av_packet_alloc());
        // Each of these either takes from the file or ends it.
        while (true) {
            const int got = avcodec_receive_frame(decoder.get(), frame);
            if (got >= 0) {
                const std::int64_t time = frame->best_effort_timestamp;
                return time == AV_NOPTS_VALUE
                           ? std::min<std::int64_t>(std::max<std::int64_t>(next, 0), static_cast<std::int64_t>(listed.size()) - 1)
                           : numberAt(time);
            }
            if (got != AVERROR(EAGAIN) || fed) return {};
            alive();
            if (av_read_frame(opened.container.get(), packet.get()) < 0) {
                fed = true;
                avcodec_send_packet(decoder.get(), nullptr);
                continue;
            }
            // What can't be decoded is left out: a damaged clip shows what it has.
            if (packet->stream_index == opened.stream) avcodec_send_packet(decoder.get(), packet.get());
            av_packet_unref(packet.get());
        }
    }

    void beginAgain() {
        opened = openAt(&file);
        openDecoder();
    }

    /// Goes to where decoding has to begin for a picture.
    void goTo(std::int64_t picture) {
        std::int64_t whole = picture;
        while (!listed[static_cast<std::size_t>(whole)].whole) --whole;
        if (next >= 0 && next <= picture && (whole <= next || picture - next < 8)) return;
        if (whole == 0 ||
            av_seek_frame(opened.container.get(), opened.stream, listed[static_cast<std::size_t>(whole)].time, AVSEEK_FLAG_BACKWARD) < 0)
            return beginAgain();
        avcodec_flush_buffers(decoder.get());
        fed = false;
        next = whole;
    }

    Frame find(std::int64_t picture) const {
        for (const auto& [number, frame] : kept)
            if (number == picture) return frame;
        return nullptr;
    }

    void keep(std::int64_t number, const Frame& frame) {
        kept.emplace_back(number, frame);
        const std::size_t most = std::clamp<std::size_t>(keptBytes / std::max<std::size_t>(1, facts.pictureBytes()), 2, mostKept);
        while (kept.size() > most) kept.pop_front();
    }

    /// Decodes until the picture is there, or the one before it where that can't be decoded.
    Frame reach(std::int64_t picture) {
        bool first = true, again = false;
        Frame before;
        while (true) {
            const Frame frame = newFrame();
            const auto number = decodeNext(frame.get());
            if (number && first && *number > picture && !again) {
                // It landed behind: only the beginning is sure.
                beginAgain();
                again = true;
                continue;
            }
            first = false;
            if (!number) {
                next = -1;
                return before;
            }
            next = *number + 1;
            if (*number > picture) {
                keep(*number, frame);
                return before ? before : frame;
            }
            keep(*number, frame);
            if (*number == picture) return frame;
            before = frame;
        }
    }

    void read(std::int64_t picture, std::vector<std::uint8_t>& to) {
        if (picture < 0 || picture >= static_cast<std::int64_t>(listed.size())) throw Error("has no such picture");
        Frame frame = find(picture);
        if (!frame) {
            goTo(picture);
            frame = reach(picture);
        }
        // What can't be decoded at the very place may be behind a beginning that was none.
        if (!frame) {
            beginAgain();
            frame = reach(picture);
        }
        if (!frame) damaged();
        to.resize(facts.pictureBytes());
        upright->take(*frame, to.data());
    }
};

ClipReader::ClipReader(int file, std::size_t mostBytes, std::function<void()> alive)
    : state_(std::make_unique<State>(file, mostBytes, std::move(alive))) {}
ClipReader::~ClipReader() = default;

const ClipFacts& ClipReader::facts() const { return state_->facts; }
void ClipReader::read(std::int64_t picture, std::vector<std::uint8_t>& to) { state_->read(picture, to); }

}  // namespace gswarm
