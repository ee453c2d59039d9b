#pragma once
#include <atomic>
#include <cstdint>
#include <filesystem>
#include <list>
#include <memory>
#include <mutex>
#include <string>

#include "core/media/clip_facts.h"
#include "core/sound/sound.h"

namespace gswarm {

/// What a file is decoded as.
enum class DecodedAs { clip, sound };

/// Programs that decode clips and sounds, one for each file that is read, apart from this one: what a damaged file does to a decoder
/// stays there. One that dies, or says nothing for a while, is given up; a file that did so thrice is refused until it changes. Throws
/// Error with a sentence that names the file. Safe from any thread: those who ask for the same file wait for each other.
class Decoders {
  public:
    /// `mostBytes` is what the pictures of one decoder may take.
    explicit Decoders(std::size_t mostBytes = std::size_t{1} << 30) : mostBytes_(mostBytes) {}
    ~Decoders();
    /// Of decoders that are started from now on.
    void limit(std::size_t mostBytes) { mostBytes_ = mostBytes; }
    Decoders(const Decoders&) = delete;
    Decoders& operator=(const Decoders&) = delete;

    /// `content` is the hash of what is in the file.
    ClipFacts clipFacts(const std::filesystem::path& file, std::uint64_t content);
    /// A picture by its number.
    ClipPicture picture(const std::filesystem::path& file, std::uint64_t content, std::int64_t number);
    SoundFacts soundFacts(const std::filesystem::path& file, std::uint64_t content);
    /// A piece by its number.
    SoundPiece soundPiece(const std::filesystem::path& file, std::uint64_t content, std::int64_t number);

  private:
    class Process;
    struct Decoded {
        DecodedAs what = DecodedAs::clip;
        std::uint64_t content = 0;
        std::mutex working;
        std::unique_ptr<Process> process;
        int failures = 0;
    };
    std::shared_ptr<Decoded> decodedOf(DecodedAs what, std::uint64_t content);
    template <class Ask>
    auto asking(const std::filesystem::path& file, DecodedAs what, std::uint64_t content, const Ask& ask);

    std::atomic<std::size_t> mostBytes_;
    std::mutex mutex_;
    std::list<std::shared_ptr<Decoded>> decoded_;  ///< the one asked last first
};

}  // namespace gswarm
