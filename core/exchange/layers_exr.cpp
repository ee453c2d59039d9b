#include "core/exchange/layers_exr.h"

#include <half.h>
#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfOutputFile.h>
#include <ImfStdIO.h>

#include <algorithm>
#include <functional>
#include <list>

#include "core/base/atomic_file.h"
#include "core/base/error.h"

namespace gswarm {
namespace {

/// The columns of a file while it is put together.
class Layers {
  public:
    Layers(int width, int height) : width_(static_cast<std::size_t>(width)), header_(width, height) {
        header_.compression() = Imf::ZIP_COMPRESSION;
        count_ = width_ * static_cast<std::size_t>(height);
    }
    void addHalfs(const std::string& name, const std::function<float(std::size_t)>& at) {
        std::vector<half>& values = halfs_.emplace_back();
        // What half floats can't hold becomes their largest: readers stumble over infinity.
        for (std::size_t i = 0; i < count_; ++i) values.emplace_back(std::clamp(at(i), -65504.0f, 65504.0f));
        add(name, Imf::HALF, values.data(), sizeof(half));
    }
    void addFloats(const std::string& name, const std::function<float(std::size_t)>& at) {
        std::vector<float>& values = floats_.emplace_back();
        for (std::size_t i = 0; i < count_; ++i) values.push_back(at(i));
        add(name, Imf::FLOAT, values.data(), sizeof(float));
    }
    void addNumbers(const std::string& name, const std::vector<std::uint32_t>& values) {
        numbers_.push_back(values);
        add(name, Imf::UINT, numbers_.back().data(), sizeof(std::uint32_t));
    }
    std::string bytes() const {
        Imf::StdOSStream stream;
        {
            Imf::OutputFile file(stream, header_);
            file.setFrameBuffer(buffer_);
            file.writePixels(header_.dataWindow().max.y - header_.dataWindow().min.y + 1);
        }
        return stream.str();
    }

  private:
    void add(const std::string& name, Imf::PixelType type, const void* values, std::size_t size) {
        header_.channels().insert(name, Imf::Channel(type));
        buffer_.insert(name, Imf::Slice::Make(type, values, header_.dataWindow(), size, size * width_));
    }

    std::size_t width_, count_ = 0;
    Imf::Header header_;
    Imf::FrameBuffer buffer_;
    std::list<std::vector<half>> halfs_;
    std::list<std::vector<float>> floats_;
    std::list<std::vector<std::uint32_t>> numbers_;
};

}  // namespace

void writeLayers(const LinearPicture& picture, const Film& film, const std::filesystem::path& path) {
    Layers layers(film.width, film.height);
    const char* colours[] = {"R", "G", "B"};
    const char* axes[] = {"X", "Y", "Z"};
    for (int c = 0; c < 3; ++c) {
        layers.addHalfs(colours[c], [&](std::size_t i) { return picture.light[i][c]; });
        layers.addHalfs(std::string("albedo.") + colours[c], [&](std::size_t i) {
            const Film::Pixel& pixel = film.pixels[i];
            return pixel.samples ? pixel.albedo[c] / static_cast<float>(pixel.samples) : 0.0f;
        });
        layers.addHalfs(std::string("normal.") + axes[c], [&](std::size_t i) { return picture.normal[i][c]; });
    }
    layers.addHalfs("A", [&](std::size_t i) { return picture.coverage[i]; });
    layers.addFloats("depth.Z", [&](std::size_t i) { return picture.coverage[i] > 0 ? picture.depth[i] : farthestDepth; });
    layers.addNumbers("id", picture.id);
    try {
        writeFileAtomically(path, layers.bytes());
    } catch (const Iex::BaseExc& error) {
        throw Error("“" + path.filename().string() + "” could not be put together (" + error.what() + ").");
    }
}

}  // namespace gswarm
