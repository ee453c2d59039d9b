#pragma once
#include <poll.h>
#include <sys/prctl.h>
#include <sys/socket.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <string>
#include <thread>

#include "core/base/companion.h"

/// The companion's own end of what companion.h begins: for programs that are started so, and have nothing else of the core.
namespace gswarm::companion {

/// All of it, or the one who asked is gone and so is this.
inline void say(const void* bytes, std::size_t size) {
    const auto* from = static_cast<const char*>(bytes);
    while (size > 0) {
        const ssize_t sent = ::send(socketNumber, from, size, MSG_NOSIGNAL);
        if (sent < 0 && errno == EINTR) continue;
        if (sent <= 0) ::_exit(0);
        from += sent, size -= static_cast<std::size_t>(sent);
    }
}

inline void hear(void* bytes, std::size_t size) {
    auto* to = static_cast<char*>(bytes);
    while (size > 0) {
        const ssize_t got = ::recv(socketNumber, to, size, 0);
        if (got < 0 && errno == EINTR) continue;
        if (got <= 0) ::_exit(0);
        to += got, size -= static_cast<std::size_t>(got);
    }
}

inline void sayAnswered() { say(&answered, 1); }

inline void refuse(const std::string& sentence) {
    const auto length = static_cast<std::uint32_t>(std::min<std::size_t>(sentence.size(), longestSentence));
    say(&refused, 1);
    say(&length, sizeof length);
    say(sentence.data(), length);
}

/// Ends with the one who started it, whatever it is at work on, and never gains rights. (What the kernel has for this ends a program with
/// the thread that started it, and threads come and go.)
inline void endWithTheOther() {
    ::prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0);
    std::thread([] {
        pollfd other{socketNumber, POLLRDHUP, 0};
        while (::poll(&other, 1, -1) < 1) {
        }
        ::_exit(0);
    }).detach();
}

}  // namespace gswarm::companion
