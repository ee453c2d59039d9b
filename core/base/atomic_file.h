#pragma once
#include <filesystem>
#include <memory>
#include <ostream>
#include <string>
#include <string_view>

namespace gswarm {

/// A file that is there whole or not at all: what is written goes to a temporary name beside it, and commit() flushes it to
/// the disk and puts it in the place of what was there, with the mode and owner of that. A link is followed to what it
/// means. What is not a regular file (a pipe, a device) is written to plainly and stays what it is.
class AtomicFile {
  public:
    /// Throws Error if nothing can be written there.
    explicit AtomicFile(const std::filesystem::path& path);
    /// Without commit() everything is as it was.
    ~AtomicFile();
    AtomicFile(const AtomicFile&) = delete;
    AtomicFile& operator=(const AtomicFile&) = delete;

    /// What is put into it and can't be written turns the stream bad; commit() says why. A place from the beginning can be sought.
    std::ostream& stream();
    /// Where it lies until commit(), for libraries that write files by name; the stream is left alone then. What is no regular file is
    /// itself.
    const std::filesystem::path& unfinished() const;
    /// Throws Error if the system refuses; what was there before is then untouched, unless it was a pipe or a device.
    void commit();

  private:
    struct State;
    std::unique_ptr<State> state_;
};

/// Writes bytes as an AtomicFile.
void writeFileAtomically(const std::filesystem::path& path, std::string_view bytes);

/// The whole file. Throws Error if it can't be read or holds more than `mostBytes`.
std::string readFile(const std::filesystem::path& path, std::uintmax_t mostBytes);

}  // namespace gswarm
