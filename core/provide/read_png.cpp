#include "core/provide/read_png.h"

#include <png.h>

#include <algorithm>
#include <bit>
#include <cstring>
#include <string>

#include "core/base/error.h"

namespace gswarm {
namespace {

/// What goes wrong in libpng, thrown through it.
[[noreturn]] void pngDamaged(png_structp, png_const_charp why) { throw Error(std::string("The picture is damaged (") + why + ")."); }
void passOverWarnings(png_structp, png_const_charp) {}

void take(png_structp png, png_bytep to, png_size_t size) {
    auto& left = *static_cast<std::string_view*>(png_get_io_ptr(png));
    if (size > left.size()) png_error(png, "it ends too soon");
    std::memcpy(to, left.data(), size);
    left.remove_prefix(size);
}

/// What libpng reads with.
struct PngReader {
    png_structp png = png_create_read_struct(PNG_LIBPNG_VER_STRING, nullptr, pngDamaged, passOverWarnings);
    png_infop info = png ? png_create_info_struct(png) : nullptr;
    PngReader() = default;
    PngReader(const PngReader&) = delete;
    ~PngReader() { png_destroy_read_struct(&png, &info, nullptr); }
};

/// Four numbers a pixel, of all rows.
template <class Number>
std::vector<Number> pixelsOf(const PngReader& reader, std::size_t width, std::size_t height, int passes) {
    const std::size_t row = 4 * width;
    if (png_get_rowbytes(reader.png, reader.info) != row * sizeof(Number)) png_error(reader.png, "its rows are not as long as it says");
    std::vector<Number> pixels(row * height);
    for (int pass = 0; pass < passes; ++pass)
        for (std::size_t y = 0; y < height; ++y) png_read_row(reader.png, reinterpret_cast<png_bytep>(pixels.data() + y * row), nullptr);
    png_read_end(reader.png, nullptr);
    return pixels;
}

}  // namespace

std::variant<Image, Image16> readPng(std::string_view bytes, const CheckPictureSize& check) {
    const PngReader reader;
    if (!reader.info) throw std::bad_alloc();
    png_set_read_fn(reader.png, &bytes, take);
    png_set_user_limits(reader.png, PNG_UINT_31_MAX, PNG_UINT_31_MAX);  // which are checked below, with their own sentence
    png_read_info(reader.png, reader.info);
    const long width = png_get_image_width(reader.png, reader.info), height = png_get_image_height(reader.png, reader.info);
    const bool deep = png_get_bit_depth(reader.png, reader.info) == 16;
    check(width, height, deep ? 16 : 4);
    png_set_expand(reader.png);
    png_set_gray_to_rgb(reader.png);
    png_set_add_alpha(reader.png, deep ? 0xffff : 0xff, PNG_FILLER_AFTER);
    if (deep && std::endian::native == std::endian::little) png_set_swap(reader.png);
    const int passes = png_set_interlace_handling(reader.png);
    png_read_update_info(reader.png, reader.info);
    const auto across = static_cast<std::size_t>(width), down = static_cast<std::size_t>(height);
    if (deep) return Image16{static_cast<int>(width), static_cast<int>(height), pixelsOf<std::uint16_t>(reader, across, down, passes)};
    return Image{static_cast<int>(width), static_cast<int>(height), pixelsOf<std::uint8_t>(reader, across, down, passes)};
}

}  // namespace gswarm
