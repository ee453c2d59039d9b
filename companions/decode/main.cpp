// The program that decodes clips and sounds, apart from the window and the tool, so that a damaged file can take neither of them with it.
// It is started by them with an open file and a socket, as core/media/decoder_words.h says, and given the most bytes that it may take.
#include <sys/resource.h>
#include <unistd.h>

#include <charconv>
#include <chrono>
#include <cstring>
#include <new>
#include <string_view>

#include "companions/decode/clip_reader.h"
#include "companions/decode/sound_reader.h"
#include "core/base/companion_end.h"
#include "core/base/error.h"
#include "core/media/decoder_words.h"

using namespace gswarm;
using namespace gswarm::companion;
using namespace gswarm::decoder;

namespace {

/// Tells the one who waits every second that it goes on.
void tellAtWork() {
    static auto told = std::chrono::steady_clock::now();
    const auto now = std::chrono::steady_clock::now();
    if (now - told < std::chrono::seconds(1)) return;
    told = now;
    say(&stillAtWork, 1);
}

/// Gives up whatever a decoder that was taken over could use.
void confine(std::size_t mostBytes) {
    endWithTheOther();
    const rlimit memory{mostBytes, mostBytes}, nothing{0, 0};
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
    static_cast<void>(memory);  // sanitizers take all addresses that there are
#else
    ::setrlimit(RLIMIT_AS, &memory);
#endif
    ::setrlimit(RLIMIT_FSIZE, &nothing);
    ::setrlimit(RLIMIT_CORE, &nothing);
    ::close_range(fileNumber + 1, ~0U, 0);
    const rlimit files{fileNumber + 1, fileNumber + 1};
    ::setrlimit(RLIMIT_NOFILE, &files);
}

/// Answers questions for numbers as long as there are any.
template <class Answer>
void answer(const Answer& to) {
    while (true) {
        std::int64_t number = 0;
        hear(&number, sizeof number);
        try {
            to(number);
        } catch (const Error& error) {
            refuse(error.what());
        }
    }
}

void serveClip(std::size_t mostBytes) {
    ClipReader reader(fileNumber, mostBytes, tellAtWork);
    const ClipFacts& facts = reader.facts();
    ClipWords words{facts.width, facts.height, facts.deep, facts.sound, static_cast<std::int64_t>(facts.begins.size()), facts.seconds, {}};
    std::strncpy(words.codec, facts.codec.c_str(), sizeof words.codec - 1);
    sayAnswered();
    say(&words, sizeof words);
    say(facts.begins.data(), facts.begins.size() * sizeof(double));
    std::vector<std::uint8_t> picture;
    answer([&](std::int64_t number) {
        reader.read(number, picture);
        sayAnswered();
        say(picture.data(), picture.size());
    });
}

void serveSound() {
    SoundReader reader(fileNumber, tellAtWork);
    const SoundFacts& facts = reader.facts();
    SoundWords words{facts.length, facts.channels, facts.fileRate, facts.fileChannels, {}};
    std::strncpy(words.format, facts.format.c_str(), sizeof words.format - 1);
    sayAnswered();
    say(&words, sizeof words);
    std::vector<float> piece;
    answer([&](std::int64_t number) {
        reader.read(number, piece);
        sayAnswered();
        say(piece.data(), piece.size() * sizeof(float));
    });
}

}  // namespace

int main(int count, char** words) {
    std::size_t mostBytes = 0;
    if (count != 3 || std::from_chars(words[2], words[2] + std::strlen(words[2]), mostBytes).ec != std::errc()) return 2;
    const std::string_view what = words[1];
    if (what != clipWord && what != soundWord) return 2;
    // What the libraries, the pictures around the one at hand and threads take besides.
    constexpr std::size_t besides = std::size_t{1} << 30;
    confine(mostBytes + besides);
    try {
        what == clipWord ? serveClip(mostBytes) : serveSound();
    } catch (const Error& error) {
        refuse(error.what());
    } catch (const std::bad_alloc&) {
        refuse("takes more memory than the limit in Preferences");
    }
    return 0;
}
