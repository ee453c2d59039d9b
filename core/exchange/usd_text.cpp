#include "core/exchange/usd_text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>

#include "core/base/content_hash.h"

namespace gswarm::usd {
namespace {

/// When an attribute has to be written: no frames where it never changes.
struct Times {
    std::vector<std::uint64_t> hashes;  ///< of the values, frame by frame
    bool steady() const { return std::adjacent_find(hashes.begin(), hashes.end(), std::not_equal_to<>()) == hashes.end(); }
    bool counts(std::size_t k) const {
        return k == 0 || k + 1 == hashes.size() || hashes[k] != hashes[k - 1] || hashes[k] != hashes[k + 1];
    }
};

std::uint64_t hashOf(const Value& value) {
    ContentHash hash;
    hash.add(value.word);
    for (const std::int64_t whole : value.wholes) hash.add(static_cast<std::uint64_t>(whole));
    std::uint32_t bits = 0;
    for (const float one : value.numbers) {
        std::memcpy(&bits, &one, sizeof bits);
        hash.add(std::uint64_t{bits});
    }
    hash.add(std::uint64_t{value.numbers.size()});
    return hash.value();
}

void eachAttribute(const std::vector<Prim>& prims, const std::function<void(const Attribute&)>& take) {
    for (const Prim& prim : prims) {
        for (const Attribute& attribute : prim.attributes) take(attribute);
        eachAttribute(prim.children, take);
    }
}

/// Puts text out in large pieces.
class Writer {
  public:
    Writer(std::ostream& out, const FrameRange& range, std::vector<Times> times, Progress& progress)
        : out_(out), range_(range), times_(std::move(times)), progress_(progress) {}

    void prims(const std::vector<Prim>& prims, int depth) {
        for (const Prim& prim : prims) {
            text_ += indent(depth) + "def " + prim.type + " \"" + prim.name + "\"";
            meta(prim.meta, depth);
            text_ += "\n" + indent(depth) + "{\n";
            for (const std::string& line : prim.lines) text_ += indent(depth + 1) + line + "\n";
            for (const Attribute& one : prim.attributes) attribute(one, depth + 1);
            this->prims(prim.children, depth + 1);
            text_ += indent(depth) + "}\n";
            flush();
        }
    }

  private:
    static std::string indent(int depth) { return std::string(static_cast<std::size_t>(depth) * 4, ' '); }

    void meta(const std::vector<std::string>& lines, int depth) {
        if (lines.empty()) return;
        text_ += " (\n";
        for (const std::string& line : lines) text_ += indent(depth + 1) + line + "\n";
        text_ += indent(depth) + ")";
    }

    void attribute(const Attribute& attribute, int depth) {
        const Times& times = times_[next_++];
        text_ += indent(depth) + attribute.declared;
        if (times.steady()) {
            text_ += " = ";
            value(attribute.at(range_.first));
            meta(attribute.meta, depth);
        } else {
            // What stands behind the value of an attribute that is sampled has to be told of it by itself.
            if (!attribute.meta.empty()) {
                meta(attribute.meta, depth);
                text_ += "\n" + indent(depth) + attribute.declared;
            }
            text_ += ".timeSamples = {\n";
            for (std::size_t k = 0; k < times.hashes.size(); ++k) {
                if (!times.counts(k)) continue;
                progress_.check();
                const int frame = range_.at(static_cast<int>(k));
                text_ += indent(depth + 1) + std::to_string(frame) + ": ";
                value(attribute.at(frame));
                text_ += ",\n";
            }
            text_ += indent(depth) + "}";
        }
        text_ += "\n";
        progress_.report(0.3 + 0.7 * static_cast<double>(next_) / static_cast<double>(times_.size()));
        flush();
    }

    void value(const Value& value) {
        if (!value.word.empty()) {
            text_ += value.path ? "@" + value.word + "@" : quoted(value.word);
            return;
        }
        if (value.array) text_ += '[';
        for (std::size_t i = 0; i < value.wholes.size(); ++i) {
            if (i > 0) text_ += ", ";
            append(value.wholes[i]);
        }
        const auto width = static_cast<std::size_t>(value.width);
        // One element at a time into a buffer: a million of them are what the time goes to.
        std::array<char, 256> element;
        for (std::size_t i = 0; i < value.numbers.size(); i += width) {
            char* at = element.data();
            if (i > 0) *at++ = ',', *at++ = ' ';
            if (width > 1) *at++ = '(';
            for (std::size_t c = 0; c < width; ++c) {
                if (c > 0) *at++ = ',', *at++ = ' ';
                const float one = value.numbers[i + c];
                at = std::to_chars(at, at + 32, std::isfinite(one) ? one : 0.0f).ptr;
            }
            if (width > 1) *at++ = ')';
            text_.append(element.data(), at);
            flush();
        }
        if (value.array) text_ += ']';
    }

    template <class T>
    void append(T number) {
        char text[32];
        text_.append(text, std::to_chars(text, text + sizeof text, number).ptr);
    }
    void flush() {
        if (text_.size() < (1 << 20)) return;
        out_ << text_;
        text_.clear();
    }

  public:
    ~Writer() { out_ << text_; }

  private:
    std::ostream& out_;
    FrameRange range_;
    std::vector<Times> times_;
    Progress& progress_;
    std::string text_;
    std::size_t next_ = 0;
};

}  // namespace

Value number(double value) { return {{static_cast<float>(value)}, {}, {}, 1, false}; }
Value three(float x, float y, float z) { return tuple({x, y, z}); }
Value tuple(std::vector<float> together) {
    const int width = static_cast<int>(together.size());
    return {std::move(together), {}, {}, width, false};
}
Value token(std::string word) { return {{}, {}, std::move(word), 1, false, false}; }
Value asset(std::string path) { return {{}, {}, std::move(path), 1, false, true}; }
Value numbers(std::vector<float> values, int width) { return {std::move(values), {}, {}, width, true, false}; }
Value wholes(std::vector<std::int64_t> values) { return {{}, std::move(values), {}, 1, true, false}; }

void write(std::ostream& out, const std::vector<Prim>& prims, const FrameRange& range, Progress& progress) {
    std::vector<Times> times;
    eachAttribute(prims, [&](const Attribute&) { times.emplace_back(); });
    if (range.count() == 1) {
        // Nothing changes within one frame.
        Writer(out, range, std::move(times), progress).prims(prims, 0);
        return;
    }
    for (int k = 0; k < range.count(); ++k) {
        const int frame = range.at(k);
        progress.check();
        std::size_t next = 0;
        eachAttribute(prims, [&](const Attribute& attribute) { times[next++].hashes.push_back(hashOf(attribute.at(frame))); });
        progress.report(0.3 * (k + 1) / range.count());
    }
    Writer(out, range, std::move(times), progress).prims(prims, 0);
}

std::string identifier(const std::string& name, std::vector<std::string>& taken) {
    std::string made;
    for (const char c : name) made += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
    if (made.empty() || std::isdigit(static_cast<unsigned char>(made[0]))) made.insert(0, "_");
    std::string once = made;
    for (int copy = 2; std::find(taken.begin(), taken.end(), once) != taken.end(); ++copy) once = made + "_" + std::to_string(copy);
    taken.push_back(once);
    return once;
}

std::string quoted(const std::string& text) {
    std::string out = "\"";
    for (const char c : text) {
        if (c == '"' || c == '\\') out += '\\';
        out += static_cast<unsigned char>(c) < 32 ? ' ' : c;
    }
    return out + "\"";
}

}  // namespace gswarm::usd
