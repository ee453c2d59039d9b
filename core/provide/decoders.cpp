#include "core/provide/decoders.h"

#include <fcntl.h>
#include <spawn.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <csignal>
#include <cstring>

#include "core/base/error.h"
#include "core/media/decoder_words.h"
#include "core/provide/decoder_talk.h"

namespace gswarm {
namespace {

constexpr int mostProcesses = 4, mostFailures = 3;

/// A file of the system that closes itself.
struct Descriptor {
    int number = -1;
    explicit Descriptor(int n) : number(n) {}
    ~Descriptor() { close(); }
    void close() {
        if (number >= 0) ::close(number);
        number = -1;
    }
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
};

}  // namespace

class Decoders::Process {
  public:
    Process(const std::filesystem::path& file, DecodedAs what, std::size_t mostBytes) {
        const std::filesystem::path program = Decoders::program();
        if (program.empty()) throw Error("can't be read: the program gswarm-decode is missing beside this one; install Gilded Swarm again");
        const Descriptor content(::open(file.c_str(), O_RDONLY | O_CLOEXEC));
        if (content.number < 0) throw Error("can't be read; check that it is there and may be read");
        int ends[2];
        if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, ends) != 0) throw Error("can't be read: too many files are open");
        Descriptor theirs(ends[1]);
        talk_ = std::make_unique<DecoderTalk>(ends[0]);
        const int roomy = 1 << 22;
        ::setsockopt(theirs.number, SOL_SOCKET, SO_SNDBUF, &roomy, sizeof roomy);
        // Both could be what the other has to become: first out of the way.
        Descriptor high(::fcntl(content.number, F_DUPFD_CLOEXEC, 64)), highSocket(::fcntl(theirs.number, F_DUPFD_CLOEXEC, 64));
        posix_spawn_file_actions_t actions;
        posix_spawn_file_actions_init(&actions);
        posix_spawn_file_actions_addopen(&actions, 0, "/dev/null", O_RDWR, 0);
        posix_spawn_file_actions_adddup2(&actions, 0, 1);
        posix_spawn_file_actions_adddup2(&actions, 0, 2);
        posix_spawn_file_actions_adddup2(&actions, high.number, decoder::decoderFile);
        posix_spawn_file_actions_adddup2(&actions, highSocket.number, decoder::decoderSocket);
        std::string name = program.filename().string(), bytes = std::to_string(mostBytes);
        std::string kind = what == DecodedAs::clip ? decoder::clipWord : decoder::soundWord;
        char* const words[] = {name.data(), kind.data(), bytes.data(), nullptr};
        char locale[] = "LC_ALL=C";
        char* const surroundings[] = {locale, nullptr};
        const int failed = ::posix_spawn(&id_, program.c_str(), &actions, nullptr, words, surroundings);
        posix_spawn_file_actions_destroy(&actions);
        if (failed != 0) {
            id_ = -1;
            end();
            throw Error("can't be read: the program gswarm-decode can't be started (" + std::string(std::strerror(failed)) + ")");
        }
        // It alone holds its end, so that its death is heard.
        theirs.close(), highSocket.close();
        try {
            if (what == DecodedAs::clip)
                talk_->hearClip();
            else
                talk_->hearSound();
        } catch (...) {
            end();
            throw;
        }
    }
    ~Process() { end(); }
    Process(const Process&) = delete;
    Process& operator=(const Process&) = delete;

    DecoderTalk& talk() { return *talk_; }

  private:
    void end() {
        talk_.reset();
        if (id_ <= 0) return;
        ::kill(id_, SIGKILL);
        while (::waitpid(id_, nullptr, 0) < 0 && errno == EINTR) {
        }
        id_ = -1;
    }

    pid_t id_ = -1;
    std::unique_ptr<DecoderTalk> talk_;
};

Decoders::~Decoders() = default;

std::filesystem::path Decoders::program() {
    std::error_code failed;
    const std::filesystem::path folder = std::filesystem::read_symlink("/proc/self/exe", failed).parent_path();
    // As installed, and in a build, where tests and benchmarks lie deeper.
    for (const char* beside : {"../libexec/gilded-swarm", "../decode", "../../decode"}) {
        auto program = folder / beside / "gswarm-decode";
        if (std::filesystem::exists(program, failed)) return program;
    }
    return {};
}

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
            } catch (const DecoderGaveUp&) {
                // It may have died of something else than this file.
                ++decoded->failures;
            }
        }
        decoded->process = std::make_unique<Process>(file, what, mostBytes_);
        return ask(decoded->process->talk());
    } catch (const DecoderGaveUp& given) {
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
