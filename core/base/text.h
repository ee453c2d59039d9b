#pragma once
#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace gswarm {

/// A number that fills the whole text, as files write them: digits with a point, an exponent, a sign also of "+".
/// Nothing else: no blanks, no "nan" or "inf", nothing that a float can't hold.
std::optional<double> numberIn(std::string_view text);
/// The same for a whole number within the range of 64 bits.
std::optional<long long> wholeNumberIn(std::string_view text);

/// How many characters a UTF-8 text has.
std::size_t characterCount(std::string_view text);
/// Whether a text is sound UTF-8, as project files must be.
bool isUtf8(std::string_view text);

/// Without blanks at both ends (blank, tab, line ends, form feed).
std::string_view trimmed(std::string_view text);
/// What stands between blanks.
std::vector<std::string_view> wordsOf(std::string_view text);
std::string lowered(std::string_view text);

/// A piece of someone's file as it can stand in a sentence: at most 40 bytes, whole characters, no line breaks.
std::string quotedPiece(std::string_view text);

/// A file name that any system takes: what is not harmless in one becomes a dash, and `begins` stands before a point or nothing.
std::string harmlessFileName(const std::string& name, const std::string& begins);

/// "1 line", "3 lines".
std::string counted(std::size_t count, const std::string& one, const std::string& several);
/// "2 lines, 1 point and 3 curves".
std::string listed(const std::vector<std::string>& items);

/// The lines of a text file one after the other, whether they end in CR, LF or both; a byte order mark is passed over.
class Lines {
  public:
    explicit Lines(std::string_view text);
    /// False at the end.
    bool next(std::string_view& line);
    /// Of the last line, from 1.
    std::size_t number() const { return number_; }

  private:
    std::string_view rest_;
    std::size_t number_ = 0;
};

/// Without the byte order mark of UTF-8.
std::string_view withoutMark(std::string_view text);
/// "1 000 000".
std::string grouped(double n);
/// A sentence that goes on in another one: its first letter is small.
std::string goingOn(std::string sentence);
/// With no more than so many digits that tell something: "0.3333", "1.5e+09".
std::string shortNumber(double n, int digits = 4);

}  // namespace gswarm
