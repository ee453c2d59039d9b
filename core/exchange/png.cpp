#include "core/exchange/png.h"

#include <png.h>

#include "core/base/atomic_file.h"
#include "core/base/error.h"

namespace gswarm {

std::string pngOf(const Image& image) {
    png_image png{};
    png.version = PNG_IMAGE_VERSION;
    png.width = static_cast<png_uint_32>(image.width);
    png.height = static_cast<png_uint_32>(image.height);
    png.format = PNG_FORMAT_RGBA;
    png_alloc_size_t size = 0;
    if (!png_image_write_get_memory_size(png, size, 0, image.pixels.data(), 0, nullptr))
        throw Error("The picture could not be compressed.");
    std::string bytes(size, '\0');
    if (!png_image_write_to_memory(&png, bytes.data(), &size, 0, image.pixels.data(), 0, nullptr))
        throw Error("The picture could not be compressed.");
    bytes.resize(size);
    return bytes;
}

void writePng(const Image& image, const std::filesystem::path& path) { writeFileAtomically(path, pngOf(image)); }

}  // namespace gswarm
