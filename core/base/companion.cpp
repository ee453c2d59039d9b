#include "core/base/companion.h"

#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <csignal>
#include <cstring>

#include "core/base/descriptor.h"
#include "core/base/error.h"
#include "core/base/text.h"

namespace gswarm {

Companion::Companion(const std::string& name, std::vector<std::string> words, int file) {
    const std::filesystem::path program = Companion::program(name);
    if (program.empty()) throw Error("the program " + name + " is missing beside this one; install Gilded Swarm again");
    int ends[2];
    if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, ends) != 0) throw Error("too many files are open");
    Descriptor ours(ends[0]);
    // It alone holds its end, so that its death is heard.
    const Descriptor theirs(ends[1]);
    const int roomy = 1 << 22;
    ::setsockopt(theirs.number, SOL_SOCKET, SO_SNDBUF, &roomy, sizeof roomy);
    ::setsockopt(ours.number, SOL_SOCKET, SO_SNDBUF, &roomy, sizeof roomy);
    // Each could be what the other has to become: first out of the way.
    const Descriptor high(::fcntl(theirs.number, F_DUPFD_CLOEXEC, 64)), highFile(file < 0 ? -1 : ::fcntl(file, F_DUPFD_CLOEXEC, 64));
    if (high.number < 0 || (file >= 0 && highFile.number < 0)) throw Error("too many files are open");
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    posix_spawn_file_actions_addopen(&actions, 0, "/dev/null", O_RDWR, 0);
    posix_spawn_file_actions_adddup2(&actions, 0, 1);
    posix_spawn_file_actions_adddup2(&actions, 0, 2);
    posix_spawn_file_actions_adddup2(&actions, high.number, companion::socketNumber);
    if (file >= 0) posix_spawn_file_actions_adddup2(&actions, highFile.number, companion::fileNumber);
    std::string own = name;
    std::vector<char*> all{own.data()};
    for (std::string& word : words) all.push_back(word.data());
    all.push_back(nullptr);
    char locale[] = "LC_ALL=C";
    char* const surroundings[] = {locale, nullptr};
    const int failed = ::posix_spawn(&id_, program.c_str(), &actions, nullptr, all.data(), surroundings);
    posix_spawn_file_actions_destroy(&actions);
    if (failed != 0) throw Error("the program " + name + " can't be started (" + std::string(std::strerror(failed)) + ")");
    socket_ = std::move(ours);
}

Companion::~Companion() {
    ::kill(id_, SIGKILL);
    while (::waitpid(id_, nullptr, 0) < 0 && errno == EINTR) {
    }
}

std::filesystem::path Companion::program(const std::string& name) {
    std::error_code failed;
    const std::filesystem::path folder = std::filesystem::read_symlink("/proc/self/exe", failed).parent_path();
    // As installed, and in a build, where tests and benchmarks lie deeper.
    for (const char* beside : {"../libexec/gilded-swarm", "../companions", "../../companions"}) {
        auto program = folder / beside / name;
        if (std::filesystem::exists(program, failed)) return program;
    }
    return {};
}

void sayTo(int socket, const void* bytes, std::size_t size) {
    const auto* at = static_cast<const char*>(bytes);
    while (size > 0) {
        const ssize_t sent = ::send(socket, at, size, MSG_NOSIGNAL);
        if (sent < 0 && errno == EINTR) continue;
        if (sent <= 0) throw CompanionGaveUp{"ended"};
        at += sent, size -= static_cast<std::size_t>(sent);
    }
}

void hearFrom(int socket, void* to, std::size_t size, int patience) {
    auto* at = static_cast<char*>(to);
    while (size > 0) {
        pollfd waits{socket, POLLIN, 0};
        const int ready = ::poll(&waits, 1, patience);
        if (ready < 0 && errno == EINTR) continue;
        if (ready == 0) throw CompanionGaveUp{"said nothing for " + std::to_string(patience / 1000) + " seconds"};
        const ssize_t got = ::recv(socket, at, size, 0);
        if (got < 0 && errno == EINTR) continue;
        if (got <= 0) throw CompanionGaveUp{"ended"};
        at += got, size -= static_cast<std::size_t>(got);
    }
}

void hearAnswer(int socket, int patience) {
    char kind = 0;
    do hearFrom(socket, &kind, 1, patience);
    while (kind == companion::stillAtWork);
    if (kind == companion::answered) return;
    std::uint32_t length = 0;
    if (kind != companion::refused) throw CompanionGaveUp{"said what can't be"};
    hearFrom(socket, &length, sizeof length, patience);
    if (length == 0 || length > companion::longestSentence) throw CompanionGaveUp{"said what can't be"};
    std::string sentence(length, ' ');
    hearFrom(socket, sentence.data(), length, patience);
    const bool told = std::none_of(sentence.begin(), sentence.end(), [](char c) { return static_cast<unsigned char>(c) < 32; });
    if (!told || !isUtf8(sentence)) throw CompanionGaveUp{"said what can't be"};
    throw Error(sentence);
}

}  // namespace gswarm
