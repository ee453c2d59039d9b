#pragma once
#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <string>

namespace gswarm {

enum class ExrPrecision { half, full };
/// Those up to piz keep every bit.
enum class ExrCompression { none, rle, zips, zip, piz, pxr24, dwaa, dwab };
inline bool keepsAll(ExrCompression compression) { return compression <= ExrCompression::piz; }

/// The channels of an OpenEXR file while it is put together, scan lines from the top.
class ExrColumns {
  public:
    ExrColumns(int width, int height, ExrCompression compression);
    ~ExrColumns();

    /// `at` gives a pixel's number. Half floats hold at most 65504: what is larger becomes that.
    void add(const std::string& channel, ExrPrecision precision, const std::function<float(std::size_t)>& at);
    /// An attribute of the header.
    void note(const std::string& name, const std::string& text);
    void note(const std::string& name, int numerator, unsigned denominator);
    /// Writes atomically. Throws Error.
    void write(const std::filesystem::path& path) const;

  private:
    struct File;
    std::unique_ptr<File> file_;
};

/// The text attribute of an OpenEXR file that is whole; empty for others, and where it has none.
std::string exrNote(const std::filesystem::path& path, const std::string& name);

}  // namespace gswarm
