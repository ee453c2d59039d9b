#include "core/exchange/exr_columns.h"

#include <half.h>
#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputFile.h>
#include <ImfOutputFile.h>
#include <ImfRationalAttribute.h>
#include <ImfStdIO.h>
#include <ImfStringAttribute.h>

#include <algorithm>
#include <list>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/parallel.h"

namespace gswarm {
namespace {

Imf::Compression compressionOf(ExrCompression compression) {
    constexpr Imf::Compression all[] = {Imf::NO_COMPRESSION,  Imf::RLE_COMPRESSION,   Imf::ZIPS_COMPRESSION, Imf::ZIP_COMPRESSION,
                                        Imf::PIZ_COMPRESSION, Imf::PXR24_COMPRESSION, Imf::DWAA_COMPRESSION, Imf::DWAB_COMPRESSION};
    return all[static_cast<int>(compression)];
}

}  // namespace

struct ExrColumns::File {
    std::size_t width, count;
    Imf::Header header;
    Imf::FrameBuffer buffer;
    std::list<std::vector<half>> halfs;
    std::list<std::vector<float>> floats;

    void add(const std::string& name, Imf::PixelType type, const void* values, std::size_t size) {
        header.channels().insert(name, Imf::Channel(type));
        buffer.insert(name, Imf::Slice::Make(type, values, header.dataWindow(), size, size * width));
    }
};

ExrColumns::ExrColumns(int width, int height, ExrCompression compression)
    : file_(new File{static_cast<std::size_t>(width),
                     static_cast<std::size_t>(width) * static_cast<std::size_t>(height),
                     Imf::Header(width, height),
                     {},
                     {},
                     {}}) {
    file_->header.compression() = compressionOf(compression);
    note("software", "Gilded Swarm");
}

ExrColumns::~ExrColumns() = default;

void ExrColumns::add(const std::string& channel, ExrPrecision precision, const std::function<float(std::size_t)>& at) {
    const auto fill = [&](auto& values, float most) {
        values.resize(file_->count);
        forRanges(file_->count, 1 << 14, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) values[i] = std::clamp(at(i), -most, most);
        });
    };
    if (precision == ExrPrecision::half) {
        fill(file_->halfs.emplace_back(), 65504.0f);
        file_->add(channel, Imf::HALF, file_->halfs.back().data(), sizeof(half));
    } else {
        fill(file_->floats.emplace_back(), 3.4e38f);
        file_->add(channel, Imf::FLOAT, file_->floats.back().data(), sizeof(float));
    }
}

void ExrColumns::note(const std::string& name, const std::string& text) { file_->header.insert(name, Imf::StringAttribute(text)); }
void ExrColumns::note(const std::string& name, int numerator, unsigned denominator) {
    file_->header.insert(name, Imf::RationalAttribute(Imf::Rational(numerator, denominator)));
}

void ExrColumns::write(const std::filesystem::path& path) const {
    try {
        Imf::StdOSStream stream;
        {
            const auto& window = file_->header.dataWindow();
            Imf::OutputFile file(stream, file_->header);
            file.setFrameBuffer(file_->buffer);
            file.writePixels(window.max.y - window.min.y + 1);
        }
        writeFileAtomically(path, stream.str());
    } catch (const Iex::BaseExc& error) {
        throw Error("“" + path.filename().string() + "” could not be put together (" + error.what() + ").");
    }
}

std::string exrNote(const std::filesystem::path& path, const std::string& name) {
    try {
        Imf::InputFile file(path.c_str());
        const auto* text = file.header().findTypedAttribute<Imf::StringAttribute>(name);
        if (!text || !file.isComplete()) return {};
        // Whole is what can be unpacked to its last line; one channel's unpacking is that of all.
        const auto& window = file.header().dataWindow();
        const auto width = static_cast<std::size_t>(window.max.x - window.min.x + 1);
        const auto height = static_cast<std::size_t>(window.max.y - window.min.y + 1);
        std::vector<half> values(width * height);
        Imf::FrameBuffer buffer;
        buffer.insert("R", Imf::Slice::Make(Imf::HALF, values.data(), window, sizeof(half), sizeof(half) * width));
        file.setFrameBuffer(buffer);
        file.readPixels(window.min.y, window.max.y);
        return text->value();
    } catch (const std::exception&) {
        return {};
    }
}

}  // namespace gswarm
