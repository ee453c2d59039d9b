#include "core/base/text.h"

#include <cctype>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <limits>

namespace gswarm {
namespace {

constexpr std::string_view blanks = " \t\r\n\f\v";

}  // namespace

std::optional<double> numberIn(std::string_view text) {
    if (text.starts_with('+')) {
        text.remove_prefix(1);
        if (text.starts_with('-')) return std::nullopt;
    }
    // from_chars also takes "nan" and "inf".
    if (text.empty() || !(std::isdigit(static_cast<unsigned char>(text.back())) || text.back() == '.')) return std::nullopt;
    if (text.front() != '-' && text.front() != '.' && !std::isdigit(static_cast<unsigned char>(text.front()))) return std::nullopt;
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (end != text.data() + text.size()) return std::nullopt;
    // Smaller than a double can tell from 0.
    if (error == std::errc::result_out_of_range && text.find_first_of("eE") != std::string_view::npos &&
        text.find('-', 1) != std::string_view::npos)
        return 0.0;
    if (error != std::errc() || !(std::abs(value) <= std::numeric_limits<float>::max())) return std::nullopt;
    return value;
}

std::optional<long long> wholeNumberIn(std::string_view text) {
    if (text.starts_with('+')) {
        text.remove_prefix(1);
        if (text.starts_with('-')) return std::nullopt;
    }
    long long value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size()) return std::nullopt;
    return value;
}

std::size_t characterCount(std::string_view text) {
    std::size_t count = 0;
    for (const char c : text) count += (c & 0xC0) != 0x80 ? 1 : 0;
    return count;
}

bool isUtf8(std::string_view text) {
    for (std::size_t i = 0; i < text.size();) {
        const auto lead = static_cast<unsigned char>(text[i]);
        const std::size_t length = lead < 0x80 ? 1 : lead >> 5 == 6 ? 2 : lead >> 4 == 14 ? 3 : lead >> 3 == 30 ? 4 : 0;
        if (length == 0 || i + length > text.size()) return false;
        std::uint32_t point = length == 1 ? lead : lead & (0xFFu >> (length + 1));
        for (std::size_t k = 1; k < length; ++k) {
            const auto next = static_cast<unsigned char>(text[i + k]);
            if (next >> 6 != 2) return false;
            point = point << 6 | (next & 0x3F);
        }
        static constexpr std::uint32_t least[] = {0, 0, 0x80, 0x800, 0x10000};
        if (point < least[length] || point > 0x10FFFF || (point >= 0xD800 && point < 0xE000)) return false;
        i += length;
    }
    return true;
}

std::string_view trimmed(std::string_view text) {
    const auto first = text.find_first_not_of(blanks);
    if (first == std::string_view::npos) return {};
    return text.substr(first, text.find_last_not_of(blanks) - first + 1);
}

std::vector<std::string_view> wordsOf(std::string_view text) {
    std::vector<std::string_view> words;
    for (std::size_t at = 0; (at = text.find_first_not_of(blanks, at)) != std::string_view::npos;) {
        const auto end = std::min(text.find_first_of(blanks, at), text.size());
        words.push_back(text.substr(at, end - at));
        at = end;
    }
    return words;
}

std::string goingOn(std::string sentence) {
    if (!sentence.empty()) sentence[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(sentence[0])));
    return sentence;
}

std::string lowered(std::string_view text) {
    std::string out(text);
    for (char& c : out) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return out;
}

std::string quotedPiece(std::string_view text) {
    constexpr std::size_t most = 40;
    std::string out;
    for (const char c : text.substr(0, most)) out += static_cast<unsigned char>(c) < 0x20 || c == 0x7f ? ' ' : c;
    // Not in the middle of a character.
    while (text.size() > most && !out.empty() && (static_cast<unsigned char>(out.back()) & 0x80)) out.pop_back();
    return "“" + out + (text.size() > most ? "…" : "") + "”";
}

std::string harmlessFileName(const std::string& name, const std::string& begins) {
    std::string out;
    for (const char c : name)
        out += static_cast<unsigned char>(c) < 32 || std::string_view("/\\:*?\"<>|").find(c) != std::string_view::npos ? '-' : c;
    return out.empty() || out[0] == '.' ? begins + out : out;
}

std::string counted(std::size_t count, const std::string& one, const std::string& several) {
    return std::to_string(count) + " " + (count == 1 ? one : several);
}

std::string listed(const std::vector<std::string>& items) {
    std::string out;
    for (std::size_t i = 0; i < items.size(); ++i) out += (i == 0 ? "" : i + 1 == items.size() ? " and " : ", ") + items[i];
    return out;
}

std::string_view withoutMark(std::string_view text) {
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    return text;
}

Lines::Lines(std::string_view text) : rest_(withoutMark(text)) {}

bool Lines::next(std::string_view& line) {
    if (rest_.empty()) return false;
    const auto end = std::min(rest_.find_first_of("\r\n"), rest_.size());
    line = rest_.substr(0, end);
    const bool both = rest_.substr(end, 2) == "\r\n";
    rest_.remove_prefix(std::min(end + (both ? 2 : 1), rest_.size()));
    ++number_;
    return true;
}

std::string grouped(double n) {
    const std::string digits = std::to_string(static_cast<long long>(n));
    std::string out;
    for (std::size_t i = 0; i < digits.size(); ++i) {
        if (i > 0 && (digits.size() - i) % 3 == 0) out += ' ';
        out += digits[i];
    }
    return out;
}

std::string shortNumber(double n, int digits) {
    char text[48];
    std::snprintf(text, sizeof text, "%.*g", digits, n);
    return text;
}

}  // namespace gswarm
