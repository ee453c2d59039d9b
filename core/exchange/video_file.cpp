#include "core/exchange/video_file.h"

#include "core/base/atomic_file.h"
#include "core/base/companion.h"
#include "core/base/error.h"
#include "core/exchange/encoder_words.h"

namespace gswarm {

struct VideoFile::State {
    AtomicFile file;
    std::string name;
    std::unique_ptr<Companion> encoder;
    bool owed = false;  ///< an answer is still to come: meanwhile the next picture is made
    bool sound = false;

    State(const std::filesystem::path& path, const VideoFormat& format) : file(path), name(path.filename().string()), sound(format.sound) {
        try {
            encoder = std::make_unique<Companion>("gswarm-encode", std::vector<std::string>{});
        } catch (const Error& error) {
            fail("can't be encoded: " + std::string(error.what()));
        }
        const std::string unfinished = file.unfinished().string();
        const encoder::EncoderWords words{format, static_cast<std::uint32_t>(unfinished.size()), static_cast<std::uint32_t>(name.size())};
        tell(encoder::begin, {{&words, sizeof words}, {unfinished.data(), unfinished.size()}, {name.data(), name.size()}});
        hear();
    }

    [[noreturn]] void fail(const std::string& what) const { throw Error("“" + name + "” " + what + "; nothing was written."); }

    struct Bytes {
        const void* first;
        std::size_t count;
    };
    void tell(char what, std::initializer_list<Bytes> bytes) {
        hear();
        try {
            sayTo(encoder->socket(), &what, 1);
            for (const Bytes& some : bytes) sayTo(encoder->socket(), some.first, some.count);
        } catch (const CompanionGaveUp& given) {
            fail("could not be encoded (the encoder " + given.how + ")");
        }
        owed = true;
    }
    /// Waits as long as the encoder works: the last pictures of a large video take their time.
    void hear() {
        if (!std::exchange(owed, false)) return;
        constexpr int forAsLongAsItTakes = -1;
        try {
            hearAnswer(encoder->socket(), forAsLongAsItTakes);
        } catch (const CompanionGaveUp& given) {
            fail("could not be encoded (the encoder " + given.how + ")");
        } catch (const Error& error) {
            fail(error.what());
        }
    }
};

VideoFile::VideoFile(const std::filesystem::path& path, const VideoFormat& format) {
    VideoFormat possible = format;
    possible.sound = format.sound && hasSound(format.codec);
    state_ = std::make_unique<State>(path, possible);
}
VideoFile::~VideoFile() = default;

void VideoFile::add(const Image& image) { state_->tell(encoder::picture, {{image.pixels.data(), image.pixels.size()}}); }
void VideoFile::add(const Image16& image) {
    state_->tell(encoder::finePicture, {{image.pixels.data(), image.pixels.size() * sizeof(std::uint16_t)}});
}
void VideoFile::addSound(const std::vector<float>& stereo) {
    if (!state_->sound) return;
    const auto count = static_cast<std::uint32_t>(stereo.size());
    state_->tell(encoder::samples, {{&count, sizeof count}, {stereo.data(), stereo.size() * sizeof(float)}});
}
void VideoFile::commit() {
    state_->tell(encoder::finish, {});
    state_->hear();
    state_->file.commit();
}

}  // namespace gswarm
