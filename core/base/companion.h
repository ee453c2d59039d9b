#pragma once
#include <sys/types.h>

#include <cstddef>
#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

#include "core/base/descriptor.h"

namespace gswarm {

/// A program that comes with this one and works apart from it, over a socket: whatever libraries do there can't take this one along, and
/// this one starts without loading them. It ends when this object does, at once; the program's own end is companion_end.h.
class Companion {
  public:
    /// Starts the program of that name with these words after its name, and `file` (or none, below 0) for its own. Throws Error with what
    /// stands in the way, to be put behind what was wanted of it: "the program NAME is missing beside this one; …".
    Companion(const std::string& name, std::vector<std::string> words, int file = -1);
    ~Companion();
    Companion(const Companion&) = delete;
    Companion& operator=(const Companion&) = delete;

    /// This end of the talk. Stays the companion's own.
    int socket() const { return socket_.number; }

    /// Where the program of that name lies beside this one, in a build or as installed. Empty where it is in neither place.
    static std::filesystem::path program(const std::string& name);

  private:
    Descriptor socket_;
    pid_t id_ = -1;
};

/// What a companion did that was no answer: it ended, was silent, or said what can't be.
struct CompanionGaveUp {
    std::string how;
};

/// Says all of it to a companion, or throws CompanionGaveUp.
void sayTo(int socket, const void* bytes, std::size_t size);
/// Fills `to` with what comes from a companion, or throws CompanionGaveUp: also after `patience` milliseconds without a byte, below 0
/// never.
void hearFrom(int socket, void* to, std::size_t size, int patience);
/// Waits until a companion answers what was asked: the rest of the answer comes next. Throws Error with the companion's own sentence where
/// it refuses, or CompanionGaveUp.
void hearAnswer(int socket, int patience);

/// What both ends say. An answer begins with a byte: any number of `stillAtWork`, then `answered`, or `refused` and a sentence, its length
/// in bytes before it (uint32).
namespace companion {
inline constexpr int socketNumber = 3, fileNumber = 4;  ///< descriptors that a companion is started with
inline constexpr char stillAtWork = '.', refused = 'r', answered = 'a';
inline constexpr std::uint32_t longestSentence = 2000;
}  // namespace companion

}  // namespace gswarm
