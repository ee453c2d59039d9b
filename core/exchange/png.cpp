#include "core/exchange/png.h"

#include <png.h>
#include <zlib.h>

#include <array>
#include <csetjmp>
#include <cstdio>
#include <cstring>
#include <fstream>
#include <memory>
#include <vector>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/provide/read_png.h"

namespace gswarm {
namespace {

constexpr const char* markKey = "Gilded Swarm";

/// What goes wrong is told by who called.
[[noreturn]] void giveUp(png_structp png, png_const_charp) { png_longjmp(png, 1); }
void passOver(png_structp, png_const_charp) {}

void append(png_structp png, png_bytep data, png_size_t size) {
    static_cast<std::string*>(png_get_io_ptr(png))->append(reinterpret_cast<const char*>(data), size);
}

/// Rows of `bits` a channel, R G B A.
std::string encoded(int width, int height, int bits, const unsigned char* pixels, const PngOptions& options) {
    std::string bytes;
    std::string mark = options.mark;
    png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, giveUp, passOver);
    png_infop info = png ? png_create_info_struct(png) : nullptr;
    if (!info || setjmp(png_jmpbuf(png))) {
        png_destroy_write_struct(&png, &info);
        throw Error("The picture could not be compressed.");
    }
    png_set_write_fn(png, &bytes, append, nullptr);
    png_set_IHDR(png, info, static_cast<png_uint_32>(width), static_cast<png_uint_32>(height), bits,
                 options.alpha ? PNG_COLOR_TYPE_RGB_ALPHA : PNG_COLOR_TYPE_RGB, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT,
                 PNG_FILTER_TYPE_DEFAULT);
    png_set_sRGB_gAMA_and_cHRM(png, info, PNG_sRGB_INTENT_PERCEPTUAL);
    if (!mark.empty()) {
        std::string key = markKey;
        png_text text{};
        text.compression = PNG_TEXT_COMPRESSION_NONE;
        text.key = key.data();
        text.text = mark.data();
        png_set_text(png, info, &text, 1);
    }
    png_write_info(png, info);
    if (!options.alpha) png_set_filler(png, 0, PNG_FILLER_AFTER);
    if (bits == 16) png_set_swap(png);
    const std::size_t row = static_cast<std::size_t>(width) * static_cast<std::size_t>(bits) / 2;
    for (int y = 0; y < height; ++y) png_write_row(png, pixels + static_cast<std::size_t>(y) * row);
    png_write_end(png, nullptr);
    png_destroy_write_struct(&png, &info);
    return bytes;
}

std::uint32_t bigEndian(const unsigned char* at) {
    return std::uint32_t{at[0]} << 24 | std::uint32_t{at[1]} << 16 | std::uint32_t{at[2]} << 8 | at[3];
}

}  // namespace

std::string pngOf(const Image& image, const PngOptions& options) {
    return encoded(image.width, image.height, 8, image.pixels.data(), options);
}

std::string pngOf(const Image16& image, const PngOptions& options) {
    return encoded(image.width, image.height, 16, reinterpret_cast<const unsigned char*>(image.pixels.data()), options);
}

void writePng(const Image& image, const std::filesystem::path& path, const PngOptions& options) {
    writeFileAtomically(path, pngOf(image, options));
}
void writePng(const Image16& image, const std::filesystem::path& path, const PngOptions& options) {
    writeFileAtomically(path, pngOf(image, options));
}

Image16 readPng(const std::filesystem::path& path) {
    constexpr long longestSide = 16384;
    const auto refusal = [&](const char* why) { return Error("“" + path.filename().string() + "” " + why + "."); };
    std::string bytes;
    try {
        bytes = readFile(path, std::size_t{1} << 31);
    } catch (const Error&) {
        throw refusal("is not there or can't be read");
    }
    try {
        auto picture = readPng(bytes, [](long width, long height, std::size_t) {
            if (width > longestSide || height > longestSide) throw Error("It is too large.");
        });
        if (auto* deep = std::get_if<Image16>(&picture)) return std::move(*deep);
        const Image& image = std::get<Image>(picture);
        Image16 widened{image.width, image.height, std::vector<std::uint16_t>(image.pixels.size())};
        for (std::size_t i = 0; i < image.pixels.size(); ++i) widened.pixels[i] = static_cast<std::uint16_t>(257 * image.pixels[i]);
        return widened;
    } catch (const Error&) {
        throw refusal("is no whole PNG picture");
    }
}

std::string pngMark(const std::filesystem::path& path) {
    constexpr std::uint32_t longest = 1u << 30;
    std::ifstream in(path, std::ios::binary);
    std::array<unsigned char, 8> head{};
    in.read(reinterpret_cast<char*>(head.data()), 8);
    if (!in || png_sig_cmp(head.data(), 0, 8) != 0) return {};
    std::string mark;
    std::vector<unsigned char> chunk;
    // Whole is what has every chunk with its right sum, to the last.
    while (in.read(reinterpret_cast<char*>(head.data()), 4)) {
        const std::uint32_t size = bigEndian(head.data());
        if (size > longest) return {};
        // Sizes in a damaged file may be anything: memory grows only with what is there.
        chunk.clear();
        for (std::size_t left = std::size_t{size} + 8; left > 0;) {
            const std::size_t part = std::min<std::size_t>(left, 1 << 20), had = chunk.size();
            chunk.resize(had + part);
            if (!in.read(reinterpret_cast<char*>(chunk.data() + had), static_cast<std::streamsize>(part))) return {};
            left -= part;
        }
        const auto sum = crc32(crc32(0, nullptr, 0), chunk.data(), size + 4);
        if (sum != bigEndian(chunk.data() + size + 4)) return {};
        const std::string_view type(reinterpret_cast<const char*>(chunk.data()), 4);
        if (type == "IEND") return mark;
        const std::string_view text(reinterpret_cast<const char*>(chunk.data()) + 4, size);
        const std::size_t key = std::strlen(markKey);
        if (type == "tEXt" && text.size() > key && text.substr(0, key) == markKey && text[key] == '\0') mark = text.substr(key + 1);
    }
    return {};
}

}  // namespace gswarm
