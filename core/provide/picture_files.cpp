#include "core/provide/picture_files.h"

#include <string_view>

#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/provide/naming.h"
#include "core/provide/read_picture.h"
#include "core/provide/store.h"

extern "C" {
extern const char gswarmSoftBoxes[], gswarmSoftBoxesEnd[], gswarmHarbour[], gswarmHarbourEnd[], gswarmMorning[], gswarmMorningEnd[];
}

namespace gswarm {
namespace {

/// Of those that come with the program (provide/shipped_surroundings.S).
std::string_view shippedBytes(SurroundingsPicture which) {
    const auto between = [](const char* begin, const char* end) { return std::string_view(begin, static_cast<std::size_t>(end - begin)); };
    if (which == SurroundingsPicture::harbour) return between(gswarmHarbour, gswarmHarbourEnd);
    if (which == SurroundingsPicture::morning) return between(gswarmMorning, gswarmMorningEnd);
    return between(gswarmSoftBoxes, gswarmSoftBoxesEnd);
}

}  // namespace

std::shared_ptr<const Panorama> panoramaOf(const Surroundings& surroundings, const std::filesystem::path& projectFolder, Store& store) {
    const auto kept = [&](std::uint64_t content, const std::function<FloatPicture()>& read) {
        const std::function<std::shared_ptr<const Panorama>()> make = [&] { return std::make_shared<const Panorama>(read()); };
        return store.get<Panorama>(keyOf("panorama", content), make, [](const Panorama& p) { return p.light().size() * 16; });
    };
    if (surroundings.which != SurroundingsPicture::file)
        return kept(static_cast<std::uint64_t>(surroundings.which), [&] { return readPicture(shippedBytes(surroundings.which)); });
    const std::filesystem::path file = pathInProject(surroundings.file, projectFolder);
    try {
        return kept(store.fileHashes().of(file).hash, [&] { return readPictureFile(file); });
    } catch (const Error& error) {
        const std::string said = error.what(), name = file.filename().string();
        throw Error(said.find(name) == std::string::npos ? "“" + name + "”: " + said : said);
    }
}

std::shared_ptr<const FloatPicture> pictureOf(const std::string& typed, const std::filesystem::path& projectFolder, Store& store,
                                              PictureAs as) {
    const std::filesystem::path file = pathInProject(typed, projectFolder);
    const std::function<std::shared_ptr<const FloatPicture>()> make = [&] {
        return std::make_shared<const FloatPicture>(readPictureFile(file, as));
    };
    return store.get<FloatPicture>(keyOf(as == PictureAs::numbers ? "numbers" : "picture", store.fileHashes().of(file).hash), make,
                                   [](const FloatPicture& p) { return p.light.size() * sizeof p.light.front(); });
}

}  // namespace gswarm
