#include "core/provide/decoders.h"

#include <fcntl.h>

#include <algorithm>

#include "core/base/companion.h"
#include "core/base/descriptor.h"
#include "core/base/error.h"
#include "core/media/decoder_words.h"
#include "core/provide/decoder_talk.h"

namespace gswarm {
namespace {

constexpr int mostProcesses = 4, mostFailures = 3;

}  // namespace

class Decoders::Process {
  public:
    Process(const std::filesystem::path& file, DecodedAs what, std::size_t mostBytes)
        : companion_(started(file, what, mostBytes)), talk_(companion_->socket()) {
        what == DecodedAs::clip ? static_cast<void>(talk_.hearClip()) : static_cast<void>(talk_.hearSound());
    }
    DecoderTalk& talk() { return talk_; }

  private:
    static std::unique_ptr<Companion> started(const std::filesystem::path& file, DecodedAs what, std::size_t mostBytes) {
        const Descriptor content(::open(file.c_str(), O_RDONLY | O_CLOEXEC));
        if (content.number < 0) throw Error("can't be read; check that it is there and may be read");
        try {
            return std::make_unique<Companion>(
                "gswarm-decode",
                std::vector<std::string>{what == DecodedAs::clip ? decoder::clipWord : decoder::soundWord, std::to_string(mostBytes)},
                content.number);
        } catch (const Error& error) {
            throw Error("can't be read: " + std::string(error.what()));
        }
    }

    std::unique_ptr<Companion> companion_;
    DecoderTalk talk_;
};

Decoders::~Decoders() = default;

std::shared_ptr<Decoders::Decoded> Decoders::decodedOf(DecodedAs what, std::uint64_t content) {
    const std::lock_guard lock(mutex_);
    const auto found =
        std::find_if(decoded_.begin(), decoded_.end(), [&](const auto& one) { return one->content == content && one->what == what; });
    if (found != decoded_.end()) {
        decoded_.splice(decoded_.begin(), decoded_, found);
    } else {
        decoded_.push_front(std::make_shared<Decoded>());
        decoded_.front()->content = content;
        decoded_.front()->what = what;
    }
    int running = 0;
    for (const auto& one : decoded_) {
        if (++running <= mostProcesses) continue;
        // One that works goes on; it is let go when it is asked next.
        if (const std::unique_lock free(one->working, std::try_to_lock); free) one->process.reset();
    }
    return decoded_.front();
}

template <class Ask>
auto Decoders::asking(const std::filesystem::path& file, DecodedAs what, std::uint64_t content, const Ask& ask) {
    const std::string name = "“" + file.filename().string() + "” ";
    const auto decoded = decodedOf(what, content);
    const std::lock_guard lock(decoded->working);
    if (decoded->failures >= mostFailures)
        throw Error(name + "can't be decoded: the decoder gave up on it three times; export it anew, or choose another file.");
    try {
        if (decoded->process) {
            try {
                return ask(decoded->process->talk());
            } catch (const CompanionGaveUp&) {
                // It may have died of something else than this file.
                ++decoded->failures;
            }
        }
        decoded->process = std::make_unique<Process>(file, what, mostBytes_);
        return ask(decoded->process->talk());
    } catch (const CompanionGaveUp& given) {
        decoded->process.reset();
        ++decoded->failures;
        throw Error(name + "could not be decoded: the decoder " + given.how +
                    ". It may be damaged; export it anew, or choose another file.");
    } catch (const Error& error) {
        throw Error(name + error.what() + ".");
    }
}

ClipFacts Decoders::clipFacts(const std::filesystem::path& file, std::uint64_t content) {
    return asking(file, DecodedAs::clip, content, [](DecoderTalk& talk) { return talk.clip(); });
}

ClipPicture Decoders::picture(const std::filesystem::path& file, std::uint64_t content, std::int64_t number) {
    return asking(file, DecodedAs::clip, content, [number](DecoderTalk& talk) { return talk.picture(number); });
}

SoundFacts Decoders::soundFacts(const std::filesystem::path& file, std::uint64_t content) {
    return asking(file, DecodedAs::sound, content, [](DecoderTalk& talk) { return talk.sound(); });
}

SoundPiece Decoders::soundPiece(const std::filesystem::path& file, std::uint64_t content, std::int64_t number) {
    return asking(file, DecodedAs::sound, content, [number](DecoderTalk& talk) { return talk.piece(number); });
}

}  // namespace gswarm
