#pragma once
#include <filesystem>
#include <memory>
#include <string>

#include "core/base/progress.h"
#include "core/shape/outline.h"

namespace gswarm {

enum class TextAlign { left, middle, right };

/// How lines of text are set. Lengths in metres.
struct TypeSetting {
    float size = 1;  ///< of the em square
    TextAlign align = TextAlign::middle;
    float letterSpacing = 0;  ///< added after every letter, in shares of the size
    float lineSpacing = 1;    ///< factor on the font's own
    bool kerning = true;
    int curveSteps = 8;  ///< straight pieces for each curve of a letter
};

/// An outline font: from a file, installed, or the one that ships with the program (Cabin SemiBold).
class Font {
  public:
    /// Throws Error if the bytes of a file are no font or have no outlines.
    static Font fromBytes(std::string bytes, const std::string& nameForPeople);
    static Font fromFile(const std::filesystem::path& path, const std::string& nameForPeople);
    /// The installed family of that name, else the shipped font; `note` then says so in one sentence.
    static Font named(const std::string& family, std::string& note);
    ~Font();
    Font(Font&&) noexcept;

    /// The contours of a text of one or more lines (split at "\n"), in metres around x = 0 with the last baseline at
    /// y = 0. Characters that the font lacks are left out and told in `note`. Checks for cancelling between letters.
    FlatContours set(const std::string& text, const TypeSetting& setting, std::string& note, Progress* progress) const;

  private:
    struct Faces;
    explicit Font(std::unique_ptr<Faces> faces);
    std::unique_ptr<Faces> faces_;
};

}  // namespace gswarm
