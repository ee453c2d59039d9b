#include "core/provide/read_picture.h"

#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputFile.h>
#include <ImfIO.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <glm/vec4.hpp>
#include <memory>
#include <new>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/media/meanings.h"
#include "core/provide/read_jpeg.h"
#include "core/provide/read_png.h"

namespace gswarm {
namespace {

void checkSize(long width, long height, std::size_t mostBytes, std::size_t bytesEach = sizeof(glm::vec4)) {
    if (width < 1 || height < 1) throw Error("The picture is empty.");
    if (width > longestPictureSide || height > longestPictureSide || width * height > mostPicturePixels)
        throw Error("The picture has " + std::to_string(width) + " × " + std::to_string(height) + " pixels; at most " +
                    std::to_string(longestPictureSide) + " a side and " + std::to_string(mostPicturePixels / 1'000'000) +
                    " million in all are read.");
    const std::size_t taken = static_cast<std::size_t>(width * height) * bytesEach;
    if (taken > mostBytes)
        throw Error("The picture has " + std::to_string(width) + " × " + std::to_string(height) + " pixels, which take " +
                    std::to_string(taken >> 20) + " MB: more than the limit of " + std::to_string(mostBytes >> 20) +
                    " MB in Preferences; raise that, or make it smaller.");
}

/// Bytes in memory, as OpenEXR reads files.
class ByteStream : public Imf::IStream {
  public:
    explicit ByteStream(std::string_view bytes) : Imf::IStream("picture"), bytes_(bytes) {}
    bool read(char to[], int count) override {
        if (count < 0 || static_cast<std::size_t>(count) > bytes_.size() - at_) throw Iex::InputExc("it ends too soon");
        std::memcpy(to, bytes_.data() + at_, static_cast<std::size_t>(count));
        at_ += static_cast<std::size_t>(count);
        return at_ < bytes_.size();
    }
    std::uint64_t tellg() override { return at_; }
    void seekg(std::uint64_t to) override {
        if (to > bytes_.size()) throw Iex::InputExc("it ends too soon");
        at_ = to;
    }
    void clear() override {}

  private:
    std::string_view bytes_;
    std::size_t at_ = 0;
};

FloatPicture readExr(std::string_view bytes, std::size_t mostBytes) {
    Imf::Header::setMaxImageSize(longestPictureSide, longestPictureSide);
    Imf::Header::setMaxTileSize(longestPictureSide, longestPictureSide);
    ByteStream stream(bytes);
    Imf::InputFile file(stream, 1);
    const Imath::Box2i window = file.header().dataWindow();
    const long width = static_cast<long>(window.max.x) - window.min.x + 1, height = static_cast<long>(window.max.y) - window.min.y + 1;
    checkSize(width, height, mostBytes);
    // No compression makes more pixels of a byte.
    if (static_cast<std::size_t>(width * height) / 4096 > bytes.size()) throw Error("The picture is damaged (it ends too soon).");
    const Imf::ChannelList& channels = file.header().channels();
    std::size_t stored = 0;
    for (auto channel = channels.begin(); channel != channels.end(); ++channel) ++stored;
    if (stored > 1024) throw Error("The picture has more than 1024 channels.");
    const bool grey = !channels.findChannel("R") && channels.findChannel("Y");
    if (!grey && !(channels.findChannel("R") && channels.findChannel("G") && channels.findChannel("B")))
        throw Error("The picture has no channels R, G and B.");
    FloatPicture picture{static_cast<int>(width), static_cast<int>(height), {}};
    picture.light.resize(static_cast<std::size_t>(width * height));
    Imf::FrameBuffer buffer;
    const char* names[3] = {"R", "G", "B"};
    for (int c = 0; c < (grey ? 1 : 3); ++c) {
        const char* name = grey ? "Y" : names[c];
        const Imf::Channel& channel = channels[name];
        if (channel.xSampling != 1 || channel.ySampling != 1) throw Error("The picture's colours are not in every pixel.");
        buffer.insert(name, Imf::Slice::Make(Imf::FLOAT, &picture.light[0][c], window, sizeof(glm::vec3),
                                             sizeof(glm::vec3) * static_cast<std::size_t>(width)));
    }
    std::vector<float> opacity;
    if (const Imf::Channel* alpha = channels.findChannel("A"); alpha && alpha->xSampling == 1 && alpha->ySampling == 1) {
        opacity.resize(picture.light.size());
        buffer.insert("A",
                      Imf::Slice::Make(Imf::FLOAT, opacity.data(), window, sizeof(float), sizeof(float) * static_cast<std::size_t>(width)));
    }
    file.setFrameBuffer(buffer);
    file.readPixels(window.min.y, window.max.y);
    picture.alpha = std::move(opacity);
    if (grey)
        for (glm::vec3& light : picture.light) light = glm::vec3(light.x);
    return picture;
}

/// Bytes one after the other; none are there behind the last.
struct Bytes {
    std::string_view all;
    std::size_t at = 0;
    std::uint8_t next() {
        if (at >= all.size()) throw Error("The picture is damaged (it ends too soon).");
        return static_cast<std::uint8_t>(all[at++]);
    }
    std::string_view line() {
        const std::size_t end = all.find('\n', at);
        if (end == std::string_view::npos) throw Error("The picture is damaged (its head has no end).");
        const std::string_view found = all.substr(at, end - at);
        at = end + 1;
        return found;
    }
};

/// Radiance HDR (Ward 1991), rows from the top: each plain, or its four channels in runs.
FloatPicture readHdr(std::string_view bytes, std::size_t mostBytes) {
    Bytes from{bytes};
    for (std::string_view line = from.line(); !line.empty(); line = from.line())
        if (line.starts_with("FORMAT=") && line != "FORMAT=32-bit_rle_rgbe") throw Error("The picture has colours other than RGBE.");
    const auto words = wordsOf(from.line());
    const bool upright = words.size() == 4 && words[0] == "-Y" && words[2] == "+X";
    const auto high = upright ? wholeNumberIn(words[1]) : std::nullopt, wide = upright ? wholeNumberIn(words[3]) : std::nullopt;
    if (!high || !wide) throw Error("The picture's rows do not go from the top to the bottom and to the right.");
    checkSize(static_cast<long>(std::clamp(*wide, 0LL, 1'000'000LL)), static_cast<long>(std::clamp(*high, 0LL, 1'000'000LL)), mostBytes);
    const auto width = static_cast<std::size_t>(*wide), height = static_cast<std::size_t>(*high);
    // A run of 127 pixels takes eight bytes at least.
    if (width * height / 16 > bytes.size()) throw Error("The picture is damaged (it ends too soon).");
    FloatPicture picture{static_cast<int>(width), static_cast<int>(height), std::vector<glm::vec3>(width * height)};
    std::vector<std::uint8_t> row(4 * width);
    for (std::size_t y = 0; y < height; ++y) {
        const std::string_view head = bytes.substr(std::min(from.at, bytes.size()), 3);
        const bool runs = width >= 8 && width < 32768 && head.size() == 3 && head[0] == 2 && head[1] == 2 && !(head[2] & 128);
        if (runs) {
            from.at += 4;
            for (std::size_t channel = 0; channel < 4; ++channel)
                for (std::size_t x = 0; x < width;) {
                    const std::uint8_t count = from.next();
                    const std::size_t length = count > 128 ? count - 128u : count;
                    if (length == 0 || length > width - x) throw Error("The picture is damaged (a run does not fit its row).");
                    const std::uint8_t value = count > 128 ? from.next() : 0;
                    for (std::size_t end = x + length; x < end; ++x) row[4 * x + channel] = count > 128 ? value : from.next();
                }
        } else {
            for (std::uint8_t& value : row) value = from.next();
        }
        for (std::size_t x = 0; x < width; ++x) {
            const std::uint8_t* p = &row[4 * x];
            const float scale = p[3] ? std::ldexp(1.0f, p[3] - 136) : 0;
            picture.light[y * width + x] = glm::vec3(p[0], p[1], p[2]) * scale;
        }
    }
    return picture;
}

/// What its numbers stand for; alpha only where some is below 1.
template <class Stored>
FloatPicture decoded(const Stored& image, PictureAs as) {
    using Number = typename decltype(image.pixels)::value_type;
    const std::vector<float>& colour = meanings<Number>(as);
    const std::vector<float>& share = meanings<Number>(PictureAs::numbers);
    FloatPicture picture{image.width, image.height, std::vector<glm::vec3>(image.pixels.size() / 4)};
    bool clear = false;
    for (std::size_t i = 0; i < picture.light.size(); ++i) {
        const Number* p = &image.pixels[4 * i];
        picture.light[i] = {colour[p[0]], colour[p[1]], colour[p[2]]};
        clear = clear || share[p[3]] < 1;
    }
    if (!clear) return picture;
    picture.alpha.resize(picture.light.size());
    for (std::size_t i = 0; i < picture.alpha.size(); ++i) picture.alpha[i] = share[image.pixels[4 * i + 3]];
    return picture;
}

void hold(FloatPicture& picture) {
    for (glm::vec3& light : picture.light)
        for (int c = 0; c < 3; ++c) light[c] = std::isfinite(light[c]) ? std::clamp(light[c], -mostPictureLight, mostPictureLight) : 0;
    for (float& alpha : picture.alpha) alpha = std::isfinite(alpha) ? std::clamp(alpha, 0.0f, 1.0f) : 0;
}

/// Of a file, with its name before what is wrong with it.
auto inFile(const std::filesystem::path& file, const auto& read) {
    try {
        return read(readFile(file, largestPictureFile));
    } catch (const Error& error) {
        throw Error("“" + file.filename().string() + "”: " + error.what());
    }
}

}  // namespace

const std::vector<std::string>& pictureEndings() {
    static const std::vector<std::string> all{".exr", ".hdr", ".png", ".jpg", ".jpeg"};
    return all;
}

StoredPicture readStoredPicture(std::string_view bytes, PictureAs as, std::size_t mostBytes) {
    if (bytes.size() > largestPictureFile) throw Error("The picture's file is larger than 1 GiB.");
    const auto check = [&](long width, long height, std::size_t bytesEach) { checkSize(width, height, mostBytes, bytesEach); };
    try {
        if (bytes.starts_with("\xff\xd8\xff")) return readJpeg(bytes, check);
        if (bytes.starts_with("\x89PNG\r\n\x1a\n")) {
            auto png = readPng(bytes, check);
            if (auto* image = std::get_if<Image>(&png)) return std::move(*image);
            return decoded(std::get<Image16>(png), as);
        }
        const bool exr = bytes.starts_with("\x76\x2f\x31\x01");
        if (!exr && !bytes.starts_with("#?")) throw Error("It is no OpenEXR, Radiance HDR, PNG or JPEG picture.");
        FloatPicture picture = exr ? readExr(bytes, mostBytes) : readHdr(bytes, mostBytes);
        hold(picture);
        return picture;
    } catch (const Iex::BaseExc& error) {
        throw Error(std::string("The picture is damaged (") + error.what() + ").");
    } catch (const std::bad_alloc&) {
        throw Error("There is not enough memory for the picture.");
    }
}

FloatPicture readPicture(std::string_view bytes, PictureAs as) {
    StoredPicture stored = readStoredPicture(bytes, as);
    if (const auto* image = std::get_if<Image>(&stored)) return decoded(*image, as);
    return std::move(std::get<FloatPicture>(stored));
}

StoredPicture readStoredPictureFile(const std::filesystem::path& file, PictureAs as, std::size_t mostBytes) {
    return inFile(file, [&](std::string_view bytes) { return readStoredPicture(bytes, as, mostBytes); });
}

FloatPicture readPictureFile(const std::filesystem::path& file, PictureAs as) {
    return inFile(file, [&](std::string_view bytes) { return readPicture(bytes, as); });
}

}  // namespace gswarm
