#include "core/provide/read_jpeg.h"

#include <jerror.h>
#include <jpeglib.h>
#include <cstdio>

#include <new>
#include <string>

#include "core/base/error.h"

namespace gswarm {
namespace {

/// More than any encoder writes; each of a million may decode the whole picture anew.
constexpr int mostScans = 500;

/// What goes wrong in libjpeg, thrown through it.
[[noreturn]] void jpegDamaged(j_common_ptr reader) {
    char why[JMSG_LENGTH_MAX];
    reader->err->format_message(reader, why);
    throw Error(std::string("The picture is damaged (") + why + ").");
}

/// Of warnings one is none: the end was made up.
void heedWarnings(j_common_ptr reader, int level) {
    if (level < 0 && reader->err->msg_code == JWRN_JPEG_EOF) throw Error("The picture is damaged (it ends too soon).");
}

void countScans(j_common_ptr reader) {
    if (reinterpret_cast<j_decompress_ptr>(reader)->input_scan_number > mostScans)
        throw Error("The picture is damaged (it is drawn more than " + std::to_string(mostScans) + " times).");
}

struct JpegReader {
    jpeg_error_mgr errors{};
    jpeg_progress_mgr progress{};
    jpeg_decompress_struct jpeg{};
    JpegReader() {
        jpeg.err = jpeg_std_error(&errors);
        errors.error_exit = jpegDamaged;
        errors.emit_message = heedWarnings;
        jpeg_create_decompress(&jpeg);
        progress.progress_monitor = countScans;
        jpeg.progress = &progress;
    }
    JpegReader(const JpegReader&) = delete;
    ~JpegReader() { jpeg_destroy_decompress(&jpeg); }
};

/// Light that is left of white by four inks; those of Adobe's files are written as what they leave.
void printed(std::uint8_t* row, std::size_t width, bool leaves) {
    for (std::uint8_t* p = row; p < row + 4 * width; p += 4) {
        const int black = leaves ? p[3] : 255 - p[3];
        for (int c = 0; c < 3; ++c) p[c] = static_cast<std::uint8_t>(((leaves ? p[c] : 255 - p[c]) * black + 127) / 255);
        p[3] = 255;
    }
}

}  // namespace

Image readJpeg(std::string_view bytes, const CheckPictureSize& check) {
    JpegReader reader;
    jpeg_decompress_struct& jpeg = reader.jpeg;
    jpeg_mem_src(&jpeg, reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
    jpeg_read_header(&jpeg, TRUE);
    check(static_cast<long>(jpeg.image_width), static_cast<long>(jpeg.image_height), 4);
    const bool inks = jpeg.jpeg_color_space == JCS_CMYK || jpeg.jpeg_color_space == JCS_YCCK;
    jpeg.out_color_space = inks ? JCS_CMYK : JCS_EXT_RGBA;
    jpeg_start_decompress(&jpeg);
    const std::size_t width = jpeg.output_width, height = jpeg.output_height;
    Image image{static_cast<int>(width), static_cast<int>(height), std::vector<std::uint8_t>(4 * width * height)};
    while (jpeg.output_scanline < jpeg.output_height) {
        std::uint8_t* row = &image.pixels[4 * width * jpeg.output_scanline];
        jpeg_read_scanlines(&jpeg, &row, 1);
        if (inks) printed(row, width, jpeg.saw_Adobe_marker);
    }
    jpeg_finish_decompress(&jpeg);
    return image;
}

}  // namespace gswarm
