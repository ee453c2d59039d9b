#include "core/resolve/typed_number.h"

#include <cctype>
#include <charconv>
#include <cmath>
#include <string>

#include "core/base/text.h"

namespace gswarm {
namespace {

constexpr int deepest = 64;

/// Recursive descent over the text; `failed` once anything is out of place.
class Reader {
  public:
    Reader(std::string text, std::string_view unit, double rate) : text_(std::move(text)), unit_(unit), rate_(rate) {}

    std::optional<double> whole() {
        const double value = sum();
        skip();
        if (failed_ || at_ != text_.size() || !std::isfinite(value)) return std::nullopt;
        return value;
    }

  private:
    /// A part of a product: what it is without its unit, and how much of the setting's unit that is.
    struct Part {
        double value = 0;
        std::optional<double> unit = {};
    };

    void skip() {
        while (at_ < text_.size() && std::isspace(static_cast<unsigned char>(text_[at_]))) ++at_;
    }
    bool take(char c) {
        skip();
        if (at_ >= text_.size() || text_[at_] != c) return false;
        ++at_;
        return true;
    }
    Part fail() {
        failed_ = true;
        return {};
    }

    double sum() {
        double value = product();
        for (;;) {
            if (take('+'))
                value += product();
            else if (take('-'))
                value -= product();
            else
                return value;
        }
    }
    double product() {
        Part all = signedPart();
        for (;;) {
            const bool times = take('*');
            if (!times && !take('/')) return all.value * all.unit.value_or(1);
            const Part next = signedPart();
            // One unit holds for the whole; two are lengths that are divided by lengths.
            if (all.unit && next.unit) {
                all = {times ? all.value * *all.unit * next.value * *next.unit : all.value * *all.unit / (next.value * *next.unit), 1.0};
                continue;
            }
            all = {times ? all.value * next.value : all.value / next.value, all.unit ? all.unit : next.unit};
        }
    }
    Part signedPart() {
        if (++depth_ > deepest) return fail();
        Part part;
        if (take('-')) {
            part = signedPart();
            part.value = -part.value;
        } else if (take('+')) {
            part = signedPart();
        } else {
            part = single();
        }
        --depth_;
        return part;
    }
    Part single() {
        if (take('(')) {
            if (++depth_ > deepest) return fail();
            const double value = sum();
            --depth_;
            if (!take(')')) return fail();
            return {value, unitHere()};
        }
        skip();
        double value = 0;
        const char* begin = text_.data() + at_;
        const char* end = text_.data() + text_.size();
        if (begin == end || !(std::isdigit(static_cast<unsigned char>(*begin)) || *begin == '.')) return fail();
        const auto [after, error] = std::from_chars(begin, end, value);
        if (error != std::errc()) return fail();
        at_ += static_cast<std::size_t>(after - begin);
        return {value, unitHere()};
    }

    /// The unit that stands next, if one does, in terms of the setting's.
    std::optional<double> unitHere() {
        skip();
        const std::size_t start = at_;
        while (at_ < text_.size() && (std::isalpha(static_cast<unsigned char>(text_[at_])) || text_[at_] == '%' || (text_[at_] & 0x80)))
            ++at_;
        const std::string said = lowered(std::string_view(text_).substr(start, at_ - start));
        if (said.empty()) return std::nullopt;
        if (said == lowered(unit_)) return 1;
        if (unit_ == "m" && said == "cm") return 0.01;
        if (unit_ == "m" && said == "mm") return 0.001;
        if (unit_ == "m" && said == "km") return 1000;
        if (unit_ == "°" && said == "deg") return 1;
        if (unit_ == "°" && (said == "turn" || said == "turns")) return 360;
        if (unit_.starts_with("frame") && said == "f") return 1;
        if (unit_.starts_with("frame") && said == "s") return rate_;
        failed_ = true;
        return std::nullopt;
    }

    std::string text_;
    std::string_view unit_;
    double rate_;
    std::size_t at_ = 0;
    int depth_ = 0;
    bool failed_ = false;
};

/// The signs that keyboards and texts have for minus and the decimal point.
std::string plain(std::string_view typed) {
    std::string text;
    constexpr std::string_view minus = "−";
    while (!typed.empty()) {
        const bool isMinus = typed.starts_with(minus);
        text += isMinus ? '-' : typed[0] == ',' ? '.' : typed[0];
        typed.remove_prefix(isMinus ? minus.size() : 1);
    }
    return text;
}

}  // namespace

std::optional<double> typedNumber(std::string_view text, std::string_view unit, double framesPerSecond) {
    return Reader(plain(text), unit, framesPerSecond).whole();
}

}  // namespace gswarm
