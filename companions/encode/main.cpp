// The program that encodes videos, apart from the window and the tool: these start without its many libraries, and an encoder that fails
// takes neither of them with it. It is started by them with a socket, as core/exchange/encoder_words.h says.
#include <unistd.h>

#include <new>
#include <string>

#include "companions/encode/video_encoder.h"
#include "core/base/companion_end.h"
#include "core/base/error.h"
#include "core/exchange/encoder_words.h"

using namespace gswarm;
using namespace gswarm::companion;

namespace {

std::string heard(std::uint32_t length) {
    std::string text(length, ' ');
    hear(text.data(), length);
    return text;
}

VideoFormat begin(VideoEncoder& encoder) {
    encoder::EncoderWords words{};
    hear(&words, sizeof words);
    const std::string path = heard(words.pathLength), name = heard(words.nameLength);
    encoder.open(path, name, words.format);
    return words.format;
}

template <class Channel>
void picture(VideoEncoder& encoder, const VideoFormat& format, std::vector<Channel>& pixels) {
    pixels.resize(std::size_t{4} * static_cast<std::size_t>(format.width) * static_cast<std::size_t>(format.height));
    hear(pixels.data(), pixels.size() * sizeof(Channel));
    encoder.add(pixels.data());
}

void samples(VideoEncoder& encoder) {
    std::uint32_t count = 0;
    hear(&count, sizeof count);
    std::vector<float> stereo(count);
    hear(stereo.data(), stereo.size() * sizeof(float));
    encoder.addSound(stereo);
}

/// Until the file is finished, or whoever tells it is gone.
void follow(VideoEncoder& encoder) {
    VideoFormat format;
    std::vector<std::uint8_t> pixels;
    std::vector<std::uint16_t> finePixels;
    while (true) {
        char what = 0;
        hear(&what, 1);
        switch (what) {
            case encoder::begin:
                format = begin(encoder);
                break;
            case encoder::picture:
                picture(encoder, format, pixels);
                break;
            case encoder::finePicture:
                picture(encoder, format, finePixels);
                break;
            case encoder::samples:
                samples(encoder);
                break;
            default:
                encoder.finish();
        }
        sayAnswered();
    }
}

}  // namespace

int main() {
    endWithTheOther();
    VideoEncoder encoder;
    try {
        follow(encoder);
    } catch (const Error& error) {
        refuse(error.what());
    } catch (const std::bad_alloc&) {
        refuse("needs more memory than there is");
    }
    // Without letting go of the encoder.
    ::_exit(1);
}
