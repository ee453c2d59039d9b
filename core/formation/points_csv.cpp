#include "core/formation/points_csv.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <glm/geometric.hpp>
#include <optional>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/formation/formation_kind.h"
#include "core/scene/kind.h"
#include "core/shape/homes.h"

namespace gswarm {
namespace {

/// What a column says.
enum class Says { x, y, z, id, nx, ny, nz, qx, qy, qz, qw, size, scaleX, scaleY, scaleZ, red, green, blue, alpha, shown, nothing, named };
constexpr std::size_t sayings = static_cast<std::size_t>(Says::nothing);

struct SaysName {
    const char* name;
    Says says;
};
constexpr SaysName saysNames[] = {{"x", Says::x},          {"px", Says::x},
                                  {"position_x", Says::x}, {"y", Says::y},
                                  {"py", Says::y},         {"position_y", Says::y},
                                  {"z", Says::z},          {"pz", Says::z},
                                  {"position_z", Says::z}, {"id", Says::id},
                                  {"nx", Says::nx},        {"normal_x", Says::nx},
                                  {"ny", Says::ny},        {"normal_y", Says::ny},
                                  {"nz", Says::nz},        {"normal_z", Says::nz},
                                  {"qx", Says::qx},        {"quaternion_x", Says::qx},
                                  {"qy", Says::qy},        {"quaternion_y", Says::qy},
                                  {"qz", Says::qz},        {"quaternion_z", Says::qz},
                                  {"qw", Says::qw},        {"quaternion_w", Says::qw},
                                  {"size", Says::size},    {"scale", Says::size},
                                  {"sx", Says::scaleX},    {"scale_x", Says::scaleX},
                                  {"sy", Says::scaleY},    {"scale_y", Says::scaleY},
                                  {"sz", Says::scaleZ},    {"scale_z", Says::scaleZ},
                                  {"r", Says::red},        {"red", Says::red},
                                  {"g", Says::green},      {"green", Says::green},
                                  {"b", Says::blue},       {"blue", Says::blue},
                                  {"a", Says::alpha},      {"alpha", Says::alpha},
                                  {"shown", Says::shown},  {"number", Says::nothing},
                                  {"shape", Says::nothing}};

/// Without a unit in brackets behind it.
std::string_view withoutUnit(std::string_view name) {
    const auto open = name.rfind('[');
    return name.ends_with(']') && open != name.npos ? trimmed(name.substr(0, open)) : name;
}

Says saysOf(const std::string& name) {
    const std::string plain = lowered(std::string(withoutUnit(name)));
    for (const SaysName& known : saysNames)
        if (plain == known.name) return known.says;
    return Says::named;
}

struct Row {
    std::vector<std::string> fields;
    bool decimalCommas = false;
};

char separatorOf(std::string_view line) {
    bool quoted = false;
    bool tab = false, comma = false;
    for (const char c : line) {
        if (c == '"') quoted = !quoted;
        if (quoted) continue;
        if (c == ';') return ';';
        tab = tab || c == '\t';
        comma = comma || c == ',';
    }
    return tab ? '\t' : comma ? ',' : ' ';
}

class TableReader {
  public:
    explicit TableReader(std::string_view text) : lines_(text) {}

    Homes read() {
        for (std::string_view line; lines_.next(line);) {
            const auto plain = trimmed(line);
            if (plain.empty() || plain.starts_with('#')) continue;
            // Blanks at the ends mean nothing, but a tab may stand for an empty field.
            const Row row = split(separatorOf(plain) == '\t' ? line : plain);
            if (columns_.empty() && begin(row)) continue;
            take(row);
        }
        return finished();
    }

  private:
    [[noreturn]] void refuse(const std::string& what) const {
        throw Error("has " + what + " (line " + std::to_string(lines_.number()) + ")");
    }

    Row split(std::string_view line) const {
        const char separator = separatorOf(line);
        Row row{{}, separator == ';' || separator == '\t'};
        for (std::size_t at = 0;;) {
            while (at < line.size() && line[at] == ' ') ++at;
            std::string field;
            if (at < line.size() && line[at] == '"') {
                for (++at;; ++at) {
                    if (at >= line.size()) refuse("a quote that is never closed");
                    if (line[at] != '"') {
                        field += line[at];
                    } else if (at + 1 < line.size() && line[at + 1] == '"') {
                        field += line[at++];
                    } else {
                        break;
                    }
                }
                ++at;
                while (at < line.size() && line[at] == ' ' && separator != ' ') ++at;
                if (at < line.size() && line[at] != separator) refuse("something behind a closed quote");
            } else {
                const auto end = std::min(line.find(separator, at), line.size());
                field = std::string(trimmed(line.substr(at, end - at)));
                at = end;
            }
            row.fields.push_back(std::move(field));
            if (at >= line.size()) return row;
            ++at;
        }
    }

    static std::optional<double> number(std::string text, bool decimalCommas) {
        if (decimalCommas && text.find('.') == std::string::npos && std::count(text.begin(), text.end(), ',') == 1)
            text[text.find(',')] = '.';
        return numberIn(text);
    }

    /// The first row: true if it is one of names.
    bool begin(const Row& row) {
        const bool names = std::any_of(row.fields.begin(), row.fields.end(), [&](const std::string& field) {
            return !number(field, row.decimalCommas) && !field.empty() && field.find_first_of("0123456789") != 0;
        });
        if (!names) {
            if (row.fields.size() != 3 && row.fields.size() != 6)
                refuse("rows of " + counted(row.fields.size(), "field", "fields") +
                       " without names; write a first row of names, such as x,y,z,size");
            columns_ = {Says::x, Says::y, Says::z, Says::nx, Says::ny, Says::nz};
            columns_.resize(row.fields.size());
            names_.resize(columns_.size());
        } else {
            for (const std::string& field : row.fields) {
                columns_.push_back(saysOf(field));
                names_.push_back(field);
                if (field.empty()) refuse("a column without a name");
                if (std::count(names_.begin(), names_.end(), field) > 1 || (columns_.back() < Says::nothing && has(columns_.back())))
                    refuse("two columns that say " + quotedPiece(field));
                if (columns_.back() < Says::nothing) present_[static_cast<std::size_t>(columns_.back())] = true;
            }
        }
        for (const Says says : columns_)
            if (says < Says::nothing) present_[static_cast<std::size_t>(says)] = true;
        for (const Says says : {Says::x, Says::y, Says::z})
            if (!has(says)) refuse("no columns named x, y and z");
        for (const auto& group : {std::array{Says::nx, Says::ny, Says::nz}, std::array{Says::scaleX, Says::scaleY, Says::scaleZ},
                                  std::array{Says::red, Says::green, Says::blue}, std::array{Says::qx, Says::qy, Says::qz}}) {
            const auto count = std::count_if(group.begin(), group.end(), [&](Says s) { return has(s); });
            if (count != 0 && count != 3) refuse("only some of three columns that belong together, such as nx, ny and nz");
        }
        if (has(Says::qx) != has(Says::qw)) refuse("a quaternion without its fourth number");
        if (has(Says::alpha) && !has(Says::red)) refuse("an alpha without a colour");
        named_.resize(columns_.size());
        textual_.resize(columns_.size());
        return names;
    }
    bool has(Says says) const { return present_[static_cast<std::size_t>(says)]; }

    void take(const Row& row) {
        if (row.fields.size() != columns_.size())
            refuse("a row of " + counted(row.fields.size(), "field", "fields") + " where there should be " +
                   std::to_string(columns_.size()));
        if (static_cast<double>(homes_.count()) >= mostInstances)
            throw Error("has more points than the limit of 16 million; make a shorter file");
        std::array<double, sayings> value{};
        std::uint64_t id = homes_.count();
        for (std::size_t c = 0; c < columns_.size(); ++c) {
            const std::string& field = row.fields[c];
            if (columns_[c] == Says::nothing || textual_[c]) continue;
            if (columns_[c] == Says::id) {
                const auto [end, error] = std::from_chars(field.data(), field.data() + field.size(), id);
                if (error != std::errc() || end != field.data() + field.size())
                    refuse(quotedPiece(field) + " for an id, which is a whole number from 0");
                continue;
            }
            const auto v = number(field, row.decimalCommas);
            if (!v && columns_[c] == Says::named) {
                textual_[c] = true;
                continue;
            }
            if (!v) refuse(quotedPiece(field) + ", which is not a valid number");
            if (columns_[c] == Says::named)
                named_[c].push_back(static_cast<float>(*v));
            else
                value[static_cast<std::size_t>(columns_[c])] = *v;
        }
        add(value, id);
    }

    void add(const std::array<double, sayings>& value, std::uint64_t id) {
        const auto at = [&](Says says) { return static_cast<float>(value[static_cast<std::size_t>(says)]); };
        glm::quat turn(1, 0, 0, 0);
        if (const glm::quat q(at(Says::qw), at(Says::qx), at(Says::qy), at(Says::qz)); has(Says::qx) && glm::dot(q, q) > 0)
            turn = glm::normalize(q);
        else if (const glm::vec3 n(at(Says::nx), at(Says::ny), at(Says::nz)); has(Says::nx) && glm::dot(n, n) > 0)
            turn = standingOn(glm::normalize(n), {0, 0, 1});
        homes_.add({at(Says::x), at(Says::y), at(Says::z)}, turn, id, has(Says::size) ? at(Says::size) : 1);
        for (std::size_t k = 0; k < extras_.size(); ++k)
            if (has(extras_[k])) extraValues_[k].push_back(at(extras_[k]));
    }

    void addColours() {
        double most = 0;
        for (std::size_t k = 0; k < extras_.size(); ++k)
            if (extras_[k] >= Says::red && extras_[k] <= Says::alpha)
                for (const float v : extraValues_[k]) most = std::max(most, double(v));
        const float scale = most > 1 ? 1 / 255.0f : 1;
        for (std::size_t k = 0; k < extras_.size(); ++k) {
            if (extras_[k] < Says::red || extras_[k] > Says::alpha) continue;
            for (float& v : extraValues_[k]) v = extras_[k] == Says::alpha ? v * scale : static_cast<float>(linearFromSrgb(v * scale));
        }
        if (scale != 1) homes_.note += "Its colours count to 255. ";
    }

    Homes finished() {
        if (has(Says::id)) {
            std::vector<std::uint64_t> sorted;
            for (std::size_t i = 0; i < homes_.count(); ++i) sorted.push_back(homes_.idOf(i));
            std::sort(sorted.begin(), sorted.end());
            if (const auto twice = std::adjacent_find(sorted.begin(), sorted.end()); twice != sorted.end())
                throw Error("has the id " + std::to_string(*twice) + " twice");
        }
        addColours();
        static constexpr HomeExtra::What whats[] = {HomeExtra::What::scaleX, HomeExtra::What::scaleY, HomeExtra::What::scaleZ,
                                                    HomeExtra::What::red,    HomeExtra::What::green,  HomeExtra::What::blue,
                                                    HomeExtra::What::alpha,  HomeExtra::What::shown};
        for (std::size_t k = 0; k < extras_.size(); ++k)
            if (has(extras_[k])) homes_.extras.push_back({whats[k], {}, {}, false, std::move(extraValues_[k])});
        std::vector<std::string> text;
        for (std::size_t c = 0; c < columns_.size(); ++c) {
            if (columns_[c] != Says::named) continue;
            if (textual_[c])
                text.push_back("“" + names_[c] + "”");
            else
                homes_.extras.push_back({HomeExtra::What::named, names_[c], {}, true, std::move(named_[c])});
        }
        if (!text.empty()) homes_.note += "Columns that are not all numbers are left out: " + listed(text) + ".";
        return std::move(homes_);
    }

    Lines lines_;
    std::vector<Says> columns_;
    std::vector<std::string> names_;
    std::array<bool, sayings + 2> present_{};
    static constexpr std::array extras_ = {Says::scaleX, Says::scaleY, Says::scaleZ, Says::red,
                                           Says::green,  Says::blue,   Says::alpha,  Says::shown};
    std::array<std::vector<float>, extras_.size()> extraValues_;
    std::vector<std::vector<float>> named_;  ///< of each column
    std::vector<bool> textual_;              ///< columns that are not all numbers
    Homes homes_;
};

}  // namespace

Homes readPointsCsv(std::string_view text) { return TableReader(text).read(); }

}  // namespace gswarm
