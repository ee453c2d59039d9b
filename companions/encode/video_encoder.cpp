#include "companions/encode/video_encoder.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavfilter/avfilter.h>
#include <libavfilter/buffersink.h>
#include <libavfilter/buffersrc.h>
#include <libavformat/avformat.h>
#include <libavutil/opt.h>
#include <libavutil/pixdesc.h>
#include <libswscale/swscale.h>
}

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/base/error.h"
#include "core/sound/sound.h"

namespace gswarm {
namespace {

/// What a codec is called by FFmpeg, and how our quality becomes its own.
struct Encoding {
    std::vector<const char*> encoders;  ///< the first that is there
    AVPixelFormat opaque, alpha;        ///< none for no alpha
    double worst, best;                 ///< rate factors at 0 and 100 %
    std::vector<std::pair<const char*, const char*>> options;
};

const Encoding& encodingOf(VideoCodec codec) {
    static const Encoding all[] = {
        {{"libx264"}, AV_PIX_FMT_YUV420P, AV_PIX_FMT_NONE, 38, 12, {{"preset", "medium"}}},
        {{"libx265"}, AV_PIX_FMT_YUV420P, AV_PIX_FMT_NONE, 40, 14, {{"preset", "medium"}, {"x265-params", "log-level=none"}}},
        {{"prores_ks"}, AV_PIX_FMT_YUV422P10, AV_PIX_FMT_NONE, 0, 0, {{"profile", "hq"}, {"vendor", "apl0"}}},
        {{"prores_ks"}, AV_PIX_FMT_YUV444P10, AV_PIX_FMT_YUVA444P10, 0, 0, {{"profile", "4444"}, {"vendor", "apl0"}, {"alpha_bits", "16"}}},
        {{"libvpx-vp9"}, AV_PIX_FMT_YUV420P, AV_PIX_FMT_YUVA420P, 56, 12, {{"deadline", "good"}, {"cpu-used", "3"}, {"row-mt", "1"}}},
        {{"libsvtav1", "libaom-av1"}, AV_PIX_FMT_YUV420P10, AV_PIX_FMT_NONE, 58, 12, {{"preset", "8"}, {"cpu-used", "6"}, {"row-mt", "1"}}},
        {{"gif"}, AV_PIX_FMT_PAL8, AV_PIX_FMT_PAL8, 0, 0, {}},
    };
    return all[static_cast<int>(codec)];
}

std::string reasonOf(int failed) {
    char text[AV_ERROR_MAX_STRING_SIZE] = {};
    av_strerror(failed, text, sizeof text);
    return text;
}

template <class T, void (*release)(T**)>
struct Releases {
    void operator()(T* one) const { release(&one); }
};
using Context = std::unique_ptr<AVCodecContext, Releases<AVCodecContext, avcodec_free_context>>;
using Frame = std::unique_ptr<AVFrame, Releases<AVFrame, av_frame_free>>;
using Packet = std::unique_ptr<AVPacket, Releases<AVPacket, av_packet_free>>;
using Graph = std::unique_ptr<AVFilterGraph, Releases<AVFilterGraph, avfilter_graph_free>>;

struct ReleasesContainer {
    void operator()(AVFormatContext* one) const {
        if (one->pb) avio_closep(&one->pb);
        avformat_free_context(one);
    }
};
struct ReleasesScaler {
    void operator()(SwsContext* one) const { sws_freeContext(one); }
};

/// The first of these encoders of sound that is there; null for none.
const AVCodec* soundCodecOf(VideoCodec codec) {
    const bool web = codec == VideoCodec::vp9 || codec == VideoCodec::av1,
               cut = codec == VideoCodec::proRes422 || codec == VideoCodec::proRes4444;
    for (const char* known : web ? std::vector{"libopus", "libvorbis"} : std::vector{cut ? "pcm_s16le" : "aac"})
        if (const AVCodec* found = avcodec_find_encoder_by_name(known)) return found;
    return nullptr;
}

/// FFmpeg and the encoders under it talk to the terminal.
void hush() {
    static const bool once = [] {
        av_log_set_level(AV_LOG_QUIET);
        setenv("SVT_LOG", "0", 0);
        return true;
    }();
    (void)once;
}

}  // namespace

struct VideoEncoder::State {
    VideoFormat format;
    std::unique_ptr<AVFormatContext, ReleasesContainer> container;
    AVStream* stream = nullptr;
    Context encoder;
    std::unique_ptr<SwsContext, ReleasesScaler> scaler;
    Graph palette;  ///< of a GIF: from colours to palettes
    AVFilterContext *paletteIn = nullptr, *paletteOut = nullptr;
    std::int64_t next = 0;        ///< the time of the next picture
    std::vector<Packet> packets;  ///< while they are to be repeated
    AVStream* soundStream = nullptr;
    Context soundEncoder;
    std::vector<float> samples;  ///< that are not encoded yet, of both sides
    std::int64_t soundNext = 0;  ///< the time of the next sample

    [[noreturn]] void fail(const std::string& what) const { throw Error(what); }
    void check(int result) const {
        if (result == AVERROR(ENOSPC)) fail("could not be written: there is no space left on the disk");
        if (result < 0) fail("could not be encoded (" + reasonOf(result) + ")");
    }

    AVPixelFormat pixels() const {
        const Encoding& encoding = encodingOf(format.codec);
        return format.alpha && encoding.alpha != AV_PIX_FMT_NONE ? encoding.alpha : encoding.opaque;
    }

    const AVCodec* codec() const {
        constexpr int leastH265 = 16;
        if (format.codec == VideoCodec::h265 && std::min(format.width, format.height) < leastH265)
            fail("can't be made: H.265 takes no pictures of less than 16 pixels a side");
        for (const char* known : encodingOf(format.codec).encoders) {
            // SVT-AV1 takes no smaller pictures.
            const bool small = std::min(format.width, format.height) < 64;
            if (small && std::strcmp(known, "libsvtav1") == 0) continue;
            if (const AVCodec* found = avcodec_find_encoder_by_name(known)) return found;
        }
        fail("can't be made here: the encoder “" + std::string(encodingOf(format.codec).encoders.front()) + "” is not installed");
    }

    void openEncoder() {
        const Encoding& encoding = encodingOf(format.codec);
        const AVCodec* found = codec();
        encoder.reset(avcodec_alloc_context3(found));
        AVCodecContext& e = *encoder;
        e.width = format.width, e.height = format.height;
        e.pix_fmt = pixels();
        e.time_base = {format.rateDenominator, format.rateNumerator};
        e.framerate = {format.rateNumerator, format.rateDenominator};
        e.sample_aspect_ratio = {1, 1};
        e.thread_count = 0;
        e.flags |= AV_CODEC_FLAG_BITEXACT;
        // A second or two from one whole picture to the next.
        e.gop_size = std::max(1, static_cast<int>(std::lround(2.0 * format.rateNumerator / format.rateDenominator)));
        if (format.codec != VideoCodec::gif) {
            e.color_primaries = AVCOL_PRI_BT709, e.color_trc = AVCOL_TRC_BT709, e.colorspace = AVCOL_SPC_BT709;
            e.color_range = AVCOL_RANGE_MPEG;
        }
        if (container->oformat->flags & AVFMT_GLOBALHEADER) e.flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
        if (format.codec == VideoCodec::h265) e.codec_tag = MKTAG('h', 'v', 'c', '1');  // the name that most players ask for
        for (const auto& [option, value] : encoding.options) av_opt_set(e.priv_data, option, value, 0);
        if (format.codec == VideoCodec::proRes422 || format.codec == VideoCodec::proRes4444) {
            e.flags |= AV_CODEC_FLAG_QSCALE;
            e.global_quality = FF_QP2LAMBDA;
        }
        if (format.megabits > 0) {
            e.bit_rate = static_cast<std::int64_t>(format.megabits * 1e6);
        } else if (encoding.worst > 0) {
            const double factor = encoding.worst + (encoding.best - encoding.worst) * std::clamp(format.quality / 100, 0.0, 1.0);
            av_opt_set_double(e.priv_data, "crf", std::round(factor), 0);
        }
        // x265 3.5 writes beyond what it has when it looks ahead over pictures of a few blocks.
        if (format.codec == VideoCodec::h265 && std::min(format.width, format.height) < 64)
            av_opt_set(e.priv_data, "x265-params", "log-level=none:cutree=0", 0);
        if (format.alpha && format.codec == VideoCodec::vp9) av_opt_set(e.priv_data, "auto-alt-ref", "0", 0);
        check(avcodec_open2(&e, found, nullptr));
    }

    void openSound() {
        const AVCodec* found = soundCodecOf(format.codec);
        if (!found) fail("can't have sound here: no encoder of sound is installed");
        soundEncoder.reset(avcodec_alloc_context3(found));
        AVCodecContext& e = *soundEncoder;
        e.sample_rate = soundRate;
        e.time_base = {1, soundRate};
        e.sample_fmt = found->sample_fmts[0];
        av_channel_layout_default(&e.ch_layout, 2);
        e.bit_rate = 192'000;
        e.flags |= AV_CODEC_FLAG_BITEXACT;
        e.strict_std_compliance = FF_COMPLIANCE_EXPERIMENTAL;
        if (container->oformat->flags & AVFMT_GLOBALHEADER) e.flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
        check(avcodec_open2(&e, found, nullptr));
        soundStream = avformat_new_stream(container.get(), nullptr);
        if (!soundStream) fail("needs more memory than there is");
        soundStream->time_base = e.time_base;
        check(avcodec_parameters_from_context(soundStream->codecpar, soundEncoder.get()));
    }

    /// Encodes what has come, as much as the encoder takes at once; at the end all of it.
    void encodeSound(bool all) {
        const std::size_t each = soundEncoder->frame_size > 0 ? static_cast<std::size_t>(soundEncoder->frame_size) : 4096;
        std::size_t taken = 0;
        const std::size_t count = samples.size() / 2;
        while (taken < count && (all || count - taken >= each)) {
            const std::size_t many = std::min(each, count - taken);
            const Frame frame(av_frame_alloc());
            frame->nb_samples = static_cast<int>(many);
            frame->format = soundEncoder->sample_fmt;
            frame->sample_rate = soundRate;
            check(av_channel_layout_copy(&frame->ch_layout, &soundEncoder->ch_layout));
            check(av_frame_get_buffer(frame.get(), 0));
            fillSound(*frame, &samples[2 * taken]);
            frame->pts = soundNext;
            soundNext += static_cast<std::int64_t>(many);
            taken += many;
            sendSound(frame.get());
        }
        samples.erase(samples.begin(), samples.begin() + static_cast<std::ptrdiff_t>(2 * taken));
        if (all) sendSound(nullptr);
    }

    void fillSound(AVFrame& frame, const float* from) const {
        const auto format16 = frame.format == AV_SAMPLE_FMT_S16;
        const bool planes = av_sample_fmt_is_planar(static_cast<AVSampleFormat>(frame.format));
        for (int i = 0; i < frame.nb_samples; ++i)
            for (int side = 0; side < 2; ++side) {
                const float value = std::clamp(from[2 * i + side], -1.0f, 1.0f);
                if (format16)
                    reinterpret_cast<std::int16_t*>(frame.data[0])[2 * i + side] = static_cast<std::int16_t>(std::lround(32767 * value));
                else
                    reinterpret_cast<float*>(frame.data[planes ? side : 0])[planes ? i : 2 * i + side] = value;
            }
    }

    /// A null frame ends it.
    void sendSound(const AVFrame* frame) {
        check(avcodec_send_frame(soundEncoder.get(), frame));
        for (;;) {
            const Packet packet(av_packet_alloc());
            const int result = avcodec_receive_packet(soundEncoder.get(), packet.get());
            if (result == AVERROR(EAGAIN) || result == AVERROR_EOF) return;
            check(result);
            av_packet_rescale_ts(packet.get(), soundEncoder->time_base, soundStream->time_base);
            packet->stream_index = soundStream->index;
            check(av_interleaved_write_frame(container.get(), packet.get()));
        }
    }

    void openContainer(const std::string& name) {
        AVFormatContext* made = nullptr;
        check(avformat_alloc_output_context2(&made, nullptr, nullptr, name.c_str()));
        container.reset(made);
        container->flags |= AVFMT_FLAG_BITEXACT;  // the same pictures, the same file: no dates and no numbers by chance
    }

    void open(const std::filesystem::path& path, const std::string& name) {
        hush();
        openContainer(name);
        openEncoder();
        stream = avformat_new_stream(container.get(), nullptr);
        if (!stream) fail("needs more memory than there is");
        stream->time_base = encoder->time_base;
        stream->avg_frame_rate = encoder->framerate;
        check(avcodec_parameters_from_context(stream->codecpar, encoder.get()));
        if (format.sound) openSound();
        const std::string url = "file:" + path.string();
        av_freep(&container->url);
        container->url = av_strdup(url.c_str());  // read again where the index is put before the pictures
        check(avio_open(&container->pb, url.c_str(), AVIO_FLAG_WRITE));
        AVDictionary* options = nullptr;
        av_dict_set(&options, "movflags", "+faststart", 0);
        av_dict_set(&options, "loop", "0", 0);  // of a GIF: for ever
        const int result = avformat_write_header(container.get(), &options);
        av_dict_free(&options);
        check(result);
        if (format.codec == VideoCodec::gif) openPalette();
    }

    /// A palette of its own for each picture, and dithered to it.
    void openPalette() {
        palette.reset(avfilter_graph_alloc());
        char in[160];
        std::snprintf(in, sizeof in, "video_size=%dx%d:pix_fmt=%d:time_base=%d/%d:pixel_aspect=1/1", format.width, format.height,
                      AV_PIX_FMT_RGBA, format.rateDenominator, format.rateNumerator);
        check(avfilter_graph_create_filter(&paletteIn, avfilter_get_by_name("buffer"), "in", in, nullptr, palette.get()));
        check(avfilter_graph_create_filter(&paletteOut, avfilter_get_by_name("buffersink"), "out", nullptr, nullptr, palette.get()));
        AVFilterInOut *outputs = avfilter_inout_alloc(), *inputs = avfilter_inout_alloc();
        outputs->name = av_strdup("in"), outputs->filter_ctx = paletteIn, outputs->pad_idx = 0, outputs->next = nullptr;
        inputs->name = av_strdup("out"), inputs->filter_ctx = paletteOut, inputs->pad_idx = 0, inputs->next = nullptr;
        const int result = avfilter_graph_parse_ptr(
            palette.get(), "[in]split[a][b];[a]palettegen=stats_mode=single[p];[b][p]paletteuse=new=1:dither=sierra2_4a[out]", &inputs,
            &outputs, nullptr);
        avfilter_inout_free(&inputs);
        avfilter_inout_free(&outputs);
        check(result);
        check(avfilter_graph_config(palette.get(), nullptr));
    }

    Frame converted(const void* from, AVPixelFormat is, std::size_t pixelBytes) {
        Frame frame(av_frame_alloc());
        if (!frame) fail("needs more memory than there is");
        frame->format = format.codec == VideoCodec::gif ? AV_PIX_FMT_RGBA : pixels();
        frame->width = format.width, frame->height = format.height;
        check(av_frame_get_buffer(frame.get(), 0));
        scaler.reset(sws_getCachedContext(
            scaler.release(), format.width, format.height, is, format.width, format.height, static_cast<AVPixelFormat>(frame->format),
            SWS_BICUBIC | SWS_ACCURATE_RND | SWS_FULL_CHR_H_INT | SWS_FULL_CHR_H_INP, nullptr, nullptr, nullptr));
        if (!scaler) fail("could not be encoded (its colours can't be turned)");
        const int* matrix = sws_getCoefficients(SWS_CS_ITU709);
        sws_setColorspaceDetails(scaler.get(), matrix, 1, matrix, 0, 0, 1 << 16, 1 << 16);
        const auto* bytes = static_cast<const std::uint8_t*>(from);
        const int line = format.width * static_cast<int>(pixelBytes);
        sws_scale(scaler.get(), &bytes, &line, 0, format.height, frame->data, frame->linesize);
        frame->pts = next++;
        frame->color_range = encoder->color_range;
        frame->colorspace = encoder->colorspace, frame->color_primaries = encoder->color_primaries, frame->color_trc = encoder->color_trc;
        return frame;
    }

    void add(const void* from, AVPixelFormat is, std::size_t pixelBytes) {
        const Frame frame = converted(from, is, pixelBytes);
        if (palette) {
            check(av_buffersrc_add_frame(paletteIn, frame.get()));
            return takePalettes();
        }
        encode(frame.get());
    }

    void takePalettes() {
        for (;;) {
            const Frame frame(av_frame_alloc());
            const int result = av_buffersink_get_frame(paletteOut, frame.get());
            if (result == AVERROR(EAGAIN) || result == AVERROR_EOF) return;
            check(result);
            encode(frame.get());
        }
    }

    /// A null frame ends it.
    void encode(const AVFrame* frame) {
        check(avcodec_send_frame(encoder.get(), frame));
        for (;;) {
            Packet packet(av_packet_alloc());
            const int result = avcodec_receive_packet(encoder.get(), packet.get());
            if (result == AVERROR(EAGAIN) || result == AVERROR_EOF) return;
            check(result);
            if (packet->duration == 0) packet->duration = 1;
            if (format.repeats > 1 && format.codec != VideoCodec::gif) packets.emplace_back(av_packet_clone(packet.get()));
            write(*packet, 0);
        }
    }

    void write(AVPacket& packet, std::int64_t later) {
        if (packet.pts != AV_NOPTS_VALUE) packet.pts += later;
        if (packet.dts != AV_NOPTS_VALUE) packet.dts += later;
        av_packet_rescale_ts(&packet, encoder->time_base, stream->time_base);
        packet.stream_index = stream->index;
        check(av_interleaved_write_frame(container.get(), &packet));
    }

    void finish() {
        if (palette) {
            check(av_buffersrc_add_frame(paletteIn, nullptr));
            takePalettes();
        }
        encode(nullptr);
        for (int again = 1; again < format.repeats; ++again)
            for (const Packet& packet : packets) {
                const Packet copy(av_packet_clone(packet.get()));
                write(*copy, again * next);
            }
        if (soundEncoder) encodeSound(true);
        check(av_write_trailer(container.get()));
        check(avio_closep(&container->pb));
    }
};

VideoEncoder::VideoEncoder() : state_(std::make_unique<State>()) {}
VideoEncoder::~VideoEncoder() = default;

void VideoEncoder::open(const std::filesystem::path& path, const std::string& name, const VideoFormat& format) {
    state_->format = format;
    state_->open(path, name);
}
void VideoEncoder::add(const std::uint8_t* pixels) { state_->add(pixels, AV_PIX_FMT_RGBA, 4); }
void VideoEncoder::add(const std::uint16_t* pixels) { state_->add(pixels, AV_PIX_FMT_RGBA64LE, 8); }
void VideoEncoder::addSound(const std::vector<float>& stereo) {
    state_->samples.insert(state_->samples.end(), stereo.begin(), stereo.end());
    state_->encodeSound(false);
}
void VideoEncoder::finish() { state_->finish(); }

}  // namespace gswarm
