#include "core/base/atomic_file.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>
#include <optional>
#include <streambuf>
#include <utility>
#include <vector>

#include "core/base/error.h"

namespace gswarm {
namespace {

namespace fs = std::filesystem;

/// Puts bytes into an open file, and remembers why that failed.
class FileBuffer : public std::streambuf {
  public:
    explicit FileBuffer(int file) : file_(file), bytes_(1 << 16) { setp(bytes_.data(), bytes_.data() + bytes_.size()); }
    int problem() const { return problem_; }

  protected:
    int overflow(int c) override {
        if (!put(pbase(), static_cast<std::size_t>(pptr() - pbase()))) return traits_type::eof();
        setp(bytes_.data(), bytes_.data() + bytes_.size());
        if (c != traits_type::eof()) sputc(static_cast<char>(c));
        return traits_type::not_eof(c);
    }
    /// Only where something is written, from the beginning.
    pos_type seekpos(pos_type to, std::ios_base::openmode) override {
        if (sync() != 0) return pos_type(off_type(-1));
        return pos_type(::lseek(file_, to, SEEK_SET));
    }
    int sync() override { return overflow(traits_type::eof()) == traits_type::eof() ? -1 : 0; }
    std::streamsize xsputn(const char* from, std::streamsize count) override {
        if (count < static_cast<std::streamsize>(bytes_.size())) return std::streambuf::xsputn(from, count);
        return sync() == 0 && put(from, static_cast<std::size_t>(count)) ? count : 0;
    }

  private:
    bool put(const char* from, std::size_t count) {
        while (count > 0) {
            const auto written = ::write(file_, from, count);
            if (written < 0 && errno == EINTR) continue;
            if (written < 0) {
                problem_ = errno;
                return false;
            }
            from += written;
            count -= static_cast<std::size_t>(written);
        }
        return true;
    }
    int file_;
    std::vector<char> bytes_;
    int problem_ = 0;
};

/// Where a path leads once links are followed, also one whose end is not there yet.
fs::path behindLinks(fs::path path) {
    std::error_code failed;
    for (int steps = 0; steps < 40 && fs::is_symlink(fs::symlink_status(path, failed)); ++steps) {
        const fs::path next = fs::read_symlink(path, failed);
        if (failed) break;
        path = next.is_absolute() ? next : path.parent_path() / next;
    }
    return path;
}

[[noreturn]] void refuse(const fs::path& path, int problem, bool replaces) {
    const std::string folder = path.has_parent_path() ? " to “" + path.parent_path().string() + "”" : "";
    const std::string kept = replaces ? "; what was there before is untouched" : "";
    throw Error("“" + path.filename().string() + "” could not be written" + folder + " (" + std::strerror(problem) + ")" + kept +
                ". Choose another place or free some space.");
}

}  // namespace

struct AtomicFile::State {
    fs::path asked, target, temporary;
    int file = -1;
    std::optional<FileBuffer> buffer;
    std::optional<std::ostream> stream;

    ~State() {
        stream.reset();
        if (file >= 0) ::close(file);
        if (!temporary.empty()) ::unlink(temporary.c_str());
    }
    bool replaces() const { return !temporary.empty(); }
};

AtomicFile::AtomicFile(const fs::path& path) : state_(std::make_unique<State>()) {
    State& s = *state_;
    s.asked = path;
    s.target = behindLinks(path);
    struct stat there {};
    const bool exists = ::stat(s.target.c_str(), &there) == 0;
    if (exists && S_ISDIR(there.st_mode)) refuse(path, EISDIR, true);
    if (exists && !S_ISREG(there.st_mode)) {
        s.file = ::open(s.target.c_str(), O_WRONLY | O_CLOEXEC);
    } else {
        s.temporary = s.target;
        s.temporary += "." + std::to_string(::getpid()) + ".part";
        s.file = ::open(s.temporary.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC | O_NOFOLLOW, 0666);
        if (s.file < 0) s.temporary.clear();
        if (s.file >= 0 && exists) {
            // Whoever may not give files away keeps them as their own.
            if (::fchown(s.file, there.st_uid, there.st_gid) != 0) (void)::fchown(s.file, static_cast<uid_t>(-1), there.st_gid);
            (void)::fchmod(s.file, there.st_mode & 07777);
        }
    }
    if (s.file < 0) refuse(path, errno, true);
    s.buffer.emplace(s.file);
    s.stream.emplace(&*s.buffer);
}

AtomicFile::~AtomicFile() = default;

std::ostream& AtomicFile::stream() { return *state_->stream; }
const fs::path& AtomicFile::unfinished() const { return state_->replaces() ? state_->temporary : state_->target; }

void AtomicFile::commit() {
    State& s = *state_;
    if (!s.stream->flush()) refuse(s.asked, s.buffer->problem() ? s.buffer->problem() : EIO, s.replaces());
    // Pipes and some devices can't be flushed to a disk.
    if (s.replaces() && ::fsync(s.file) != 0) refuse(s.asked, errno, true);
    const int file = std::exchange(s.file, -1);
    if (::close(file) != 0) refuse(s.asked, errno, s.replaces());
    if (!s.replaces()) return;
    if (::rename(s.temporary.c_str(), s.target.c_str()) != 0) refuse(s.asked, errno, true);
    s.temporary.clear();
}

void writeFileAtomically(const fs::path& path, std::string_view bytes) {
    AtomicFile file(path);
    file.stream().write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    file.commit();
}

std::string readFile(const std::filesystem::path& path, std::uintmax_t mostBytes) {
    const std::string name = "“" + path.filename().string() + "”";
    std::error_code failed;
    if (!std::filesystem::is_regular_file(path, failed)) throw Error(name + " is not there or is not a file.");
    const auto size = std::filesystem::file_size(path, failed);
    if (failed) throw Error(name + " can't be read (" + failed.message() + ").");
    if (size > mostBytes)
        throw Error(name + " has " + std::to_string(size >> 20) + " MiB, more than the limit of " + std::to_string(mostBytes >> 20) +
                    " MiB.");
    std::ifstream stream(path, std::ios::binary);
    std::string bytes(size, '\0');
    if (!stream.read(bytes.data(), static_cast<std::streamsize>(size))) throw Error(name + " can't be read; check that you may open it.");
    return bytes;
}

}  // namespace gswarm
