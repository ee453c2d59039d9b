// Letters as contours: FreeType reads them, HarfBuzz sets them, fontconfig finds them.
#include "core/shape/font.h"

#include <fontconfig/fontconfig.h>
#include <ft2build.h>
#include FT_FREETYPE_H
#include FT_OUTLINE_H
#include <hb.h>

#include <algorithm>
#include <cctype>
#include <span>
#include <vector>

#include "core/base/atomic_file.h"
#include "core/base/error.h"

extern "C" const unsigned char gswarmShippedFont[], gswarmShippedFontEnd[];

namespace gswarm {
namespace {

constexpr std::uintmax_t mostFontBytes = 128u << 20;
constexpr std::size_t mostLetters = 20'000;

std::string lower(std::string text) {
    for (char& c : text) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return text;
}

/// Collects a glyph's contours in font units, curves as straight pieces.
struct Pen {
    FlatContours contours;
    glm::dvec2 offset{0};
    int steps = 8;

    static glm::dvec2 place(const FT_Vector* v) { return {static_cast<double>(v->x), static_cast<double>(v->y)}; }
    glm::dvec2& last() { return contours.back().back(); }
    void add(const glm::dvec2& p) { contours.back().push_back(p); }

    static int move(const FT_Vector* to, void* self) {
        static_cast<Pen*>(self)->contours.push_back({place(to) + static_cast<Pen*>(self)->offset});
        return 0;
    }
    static int line(const FT_Vector* to, void* self) {
        auto& pen = *static_cast<Pen*>(self);
        pen.add(place(to) + pen.offset);
        return 0;
    }
    static int conic(const FT_Vector* control, const FT_Vector* to, void* self) {
        auto& pen = *static_cast<Pen*>(self);
        const glm::dvec2 a = pen.last(), b = place(control) + pen.offset, c = place(to) + pen.offset;
        for (int k = 1; k <= pen.steps; ++k) {
            const double t = double(k) / pen.steps, u = 1 - t;
            pen.add(k == pen.steps ? c : a * (u * u) + b * (2 * u * t) + c * (t * t));
        }
        return 0;
    }
    static int cubic(const FT_Vector* c1, const FT_Vector* c2, const FT_Vector* to, void* self) {
        auto& pen = *static_cast<Pen*>(self);
        const glm::dvec2 a = pen.last(), b = place(c1) + pen.offset, c = place(c2) + pen.offset, d = place(to) + pen.offset;
        for (int k = 1; k <= pen.steps; ++k) {
            const double t = double(k) / pen.steps, u = 1 - t;
            pen.add(k == pen.steps ? d : a * (u * u * u) + b * (3 * u * u * t) + c * (3 * u * t * t) + d * (t * t * t));
        }
        return 0;
    }
};

std::vector<std::string> linesOf(const std::string& text) {
    std::vector<std::string> lines{""};
    for (const char c : text)
        if (c == '\n')
            lines.emplace_back();
        else
            lines.back() += c;
    while (lines.size() > 1 && lines.back().empty()) lines.pop_back();
    return lines;
}

/// The file of an installed family; empty if it isn't there.
std::pair<std::string, int> installedFile(const std::string& family) {
    FcConfig* config = FcInitLoadConfigAndFonts();
    if (!config) return {};
    FcPattern* pattern = FcNameParse(reinterpret_cast<const FcChar8*>(family.c_str()));
    FcConfigSubstitute(config, pattern, FcMatchPattern);
    FcDefaultSubstitute(pattern);
    FcResult result;
    FcPattern* found = FcFontMatch(config, pattern, &result);
    std::pair<std::string, int> file;
    if (found) {
        // A match by another name is a substitute that nobody asked for.
        const std::string asked = lower(family.substr(0, family.find(':')));
        FcChar8 *name = nullptr, *path = nullptr;
        int index = 0;
        bool same = false;
        for (int i = 0; FcPatternGetString(found, FC_FAMILY, i, &name) == FcResultMatch; ++i)
            same = same || lower(reinterpret_cast<const char*>(name)) == asked;
        FcPatternGetInteger(found, FC_INDEX, 0, &index);
        if (same && FcPatternGetString(found, FC_FILE, 0, &path) == FcResultMatch) file = {reinterpret_cast<const char*>(path), index};
        FcPatternDestroy(found);
    }
    FcPatternDestroy(pattern);
    FcConfigDestroy(config);
    return file;
}

}  // namespace

struct Font::Faces {
    std::string bytes;  ///< of a file; FreeType reads from them
    FT_Library library = nullptr;
    FT_Face face = nullptr;
    hb_font_t* shaper = nullptr;

    ~Faces() {
        if (shaper) hb_font_destroy(shaper);
        if (face) FT_Done_Face(face);
        if (library) FT_Done_FreeType(library);
    }
    bool open(std::span<const unsigned char> data, int index) {
        if (FT_Init_FreeType(&library) != 0) return false;
        if (FT_New_Memory_Face(library, data.data(), static_cast<FT_Long>(data.size()), index, &face) != 0) return false;
        if (!FT_IS_SCALABLE(face) || face->units_per_EM == 0) return false;
        hb_blob_t* blob = hb_blob_create(reinterpret_cast<const char*>(data.data()), static_cast<unsigned>(data.size()),
                                         HB_MEMORY_MODE_READONLY, nullptr, nullptr);
        hb_face_t* shaped = hb_face_create(blob, static_cast<unsigned>(index));
        shaper = hb_font_create(shaped);
        hb_font_set_scale(shaper, face->units_per_EM, face->units_per_EM);
        hb_face_destroy(shaped);
        hb_blob_destroy(blob);
        return true;
    }
};

Font::Font(std::unique_ptr<Faces> faces) : faces_(std::move(faces)) {}
Font::~Font() = default;
Font::Font(Font&&) noexcept = default;

Font Font::fromFile(const std::filesystem::path& path, const std::string& nameForPeople) {
    return fromBytes(readFile(path, mostFontBytes), nameForPeople);
}

Font Font::fromBytes(std::string bytes, const std::string& nameForPeople) {
    auto faces = std::make_unique<Faces>();
    faces->bytes = std::move(bytes);
    if (!faces->open({reinterpret_cast<const unsigned char*>(faces->bytes.data()), faces->bytes.size()}, 0))
        throw Error("“" + nameForPeople + "” is damaged or no outline font; choose another file.");
    return Font(std::move(faces));
}

Font Font::named(const std::string& family, std::string& note) {
    if (const std::string name = lower(family); !name.empty() && name != "cabin semibold") {
        const auto [file, index] = installedFile(family);
        auto faces = std::make_unique<Faces>();
        if (!file.empty()) {
            faces->bytes = readFile(file, mostFontBytes);
            if (faces->open({reinterpret_cast<const unsigned char*>(faces->bytes.data()), faces->bytes.size()}, index))
                return Font(std::move(faces));
        }
        note = "The font “" + family + "” is not installed; the lettering uses Cabin SemiBold until you choose another.";
    }
    auto faces = std::make_unique<Faces>();
    const auto size = static_cast<std::size_t>(gswarmShippedFontEnd - gswarmShippedFont);
    if (!faces->open({gswarmShippedFont, size}, 0)) throw Error("The font that ships with the program can't be read.");
    return Font(std::move(faces));
}

FlatContours Font::set(const std::string& text, const TypeSetting& setting, std::string& note, Progress* progress) const {
    const double unit = setting.size / static_cast<double>(faces_->face->units_per_EM);
    const double lineStep = faces_->face->height * setting.lineSpacing;
    const double spacing = setting.letterSpacing * faces_->face->units_per_EM;
    const auto lines = linesOf(text);
    if (text.size() > mostLetters) throw Error("The text is longer than " + std::to_string(mostLetters) + " letters; shorten it.");
    FlatContours out;
    bool missing = false;
    std::size_t done = 0;
    for (std::size_t l = 0; l < lines.size(); ++l) {
        hb_buffer_t* buffer = hb_buffer_create();
        hb_buffer_add_utf8(buffer, lines[l].data(), static_cast<int>(lines[l].size()), 0, -1);
        hb_buffer_guess_segment_properties(buffer);
        const hb_feature_t kerning{HB_TAG('k', 'e', 'r', 'n'), setting.kerning ? 1u : 0u, 0, ~0u};
        hb_shape(faces_->shaper, buffer, &kerning, 1);
        unsigned count = 0;
        const hb_glyph_info_t* infos = hb_buffer_get_glyph_infos(buffer, &count);
        const hb_glyph_position_t* positions = hb_buffer_get_glyph_positions(buffer, &count);
        Pen pen;
        pen.steps = std::max(1, setting.curveSteps);
        double x = 0, width = 0;
        for (unsigned g = 0; g < count; ++g) {
            pen.offset = {x + positions[g].x_offset, positions[g].y_offset};
            missing = missing || infos[g].codepoint == 0;
            if (infos[g].codepoint != 0 && FT_Load_Glyph(faces_->face, infos[g].codepoint, FT_LOAD_NO_SCALE | FT_LOAD_NO_HINTING) == 0 &&
                faces_->face->glyph->format == FT_GLYPH_FORMAT_OUTLINE) {
                const FT_Outline_Funcs draw{Pen::move, Pen::line, Pen::conic, Pen::cubic, 0, 0};
                FT_Outline_Decompose(&faces_->face->glyph->outline, &draw, &pen);
            }
            x += positions[g].x_advance + spacing;
            width = x - spacing;
            if (progress && progress->cancelled()) break;
        }
        hb_buffer_destroy(buffer);
        if (progress) {
            progress->check();
            progress->report(static_cast<double>(done += lines[l].size()) / static_cast<double>(text.size() + 1));
        }
        const double shift = setting.align == TextAlign::left ? 0 : setting.align == TextAlign::middle ? -width / 2 : -width;
        const double down = lineStep * static_cast<double>(lines.size() - 1 - l);
        for (auto& contour : pen.contours) {
            for (auto& p : contour) p = (p + glm::dvec2(shift, down)) * unit;
            if (contour.size() > 2) out.push_back(std::move(contour));
        }
    }
    if (missing) note += std::string(note.empty() ? "" : " ") + "The font lacks some of these characters; they are left out.";
    return out;
}

}  // namespace gswarm
