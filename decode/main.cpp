// The program that decodes clips and sounds, apart from the window and the tool, so that a damaged file can take neither of them with it.
// It is started by them with an open file and a socket, as core/media/decoder_words.h says, and given the most bytes that it may take.
#include <fcntl.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <unistd.h>

#include <charconv>
#include <chrono>
#include <csignal>
#include <cstring>
#include <new>
#include <string_view>

#include "core/base/error.h"
#include "core/media/decoder_words.h"
#include "decode/clip_reader.h"
#include "decode/sound_reader.h"

using namespace gswarm;
using namespace gswarm::decoder;

namespace {

/// All of it, or the one who asked is gone and so is this.
void say(const void* bytes, std::size_t size) {
    const auto* from = static_cast<const char*>(bytes);
    while (size > 0) {
        const ssize_t sent = ::send(decoderSocket, from, size, MSG_NOSIGNAL);
        if (sent <= 0) ::_exit(0);
        from += sent, size -= static_cast<std::size_t>(sent);
    }
}

void hear(void* bytes, std::size_t size) {
    if (::recv(decoderSocket, bytes, size, MSG_WAITALL) != static_cast<ssize_t>(size)) ::_exit(0);
}

void refuse(const std::string& sentence) {
    const auto length = static_cast<std::uint32_t>(std::min<std::size_t>(sentence.size(), longestSentence));
    say(&refused, 1);
    say(&length, sizeof length);
    say(sentence.data(), length);
}

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
    ::prctl(PR_SET_PDEATHSIG, SIGKILL);
    ::prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0);
    const rlimit memory{mostBytes, mostBytes}, nothing{0, 0};
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
    static_cast<void>(memory);  // sanitizers take all addresses that there are
#else
    ::setrlimit(RLIMIT_AS, &memory);
#endif
    ::setrlimit(RLIMIT_FSIZE, &nothing);
    ::setrlimit(RLIMIT_CORE, &nothing);
    ::close_range(decoderSocket + 1, ~0U, 0);
    const rlimit files{decoderSocket + 1, decoderSocket + 1};
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
    ClipReader reader(decoderFile, mostBytes, tellAtWork);
    const ClipFacts& facts = reader.facts();
    ClipWords words{facts.width, facts.height, facts.deep, facts.sound, static_cast<std::int64_t>(facts.begins.size()), facts.seconds, {}};
    std::strncpy(words.codec, facts.codec.c_str(), sizeof words.codec - 1);
    say(&answered, 1);
    say(&words, sizeof words);
    say(facts.begins.data(), facts.begins.size() * sizeof(double));
    std::vector<std::uint8_t> picture;
    answer([&](std::int64_t number) {
        reader.read(number, picture);
        say(&answered, 1);
        say(picture.data(), picture.size());
    });
}

void serveSound() {
    SoundReader reader(decoderFile, tellAtWork);
    const SoundFacts& facts = reader.facts();
    SoundWords words{facts.length, facts.channels, facts.fileRate, facts.fileChannels, {}};
    std::strncpy(words.format, facts.format.c_str(), sizeof words.format - 1);
    say(&answered, 1);
    say(&words, sizeof words);
    std::vector<float> piece;
    answer([&](std::int64_t number) {
        reader.read(number, piece);
        say(&answered, 1);
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
