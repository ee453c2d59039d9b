// One picture from a file.
#include "core/base/content_hash.h"
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/media/media_kind.h"

namespace gswarm {
namespace {

struct PictureMedia {
    std::string file;
    PictureAs colours;
};

std::filesystem::path fileOf(const PictureMedia& picture, const MediaSource& source) {
    if (picture.file.empty()) throw Error("It has no file yet; choose a picture in the project's folder.");
    return pathInProject(picture.file, source.projectFolder);
}

MediaShown shown(const PictureMedia& picture, const MediaSource& source) {
    return shownOfFile(source, fileOf(picture, source), picture.colours, false);
}

std::string told(const PictureMedia& picture, const MediaSource& source) {
    fileOf(picture, source);
    return "One picture.";
}

}  // namespace

MediaShown shownOfFile(const MediaSource& source, const std::filesystem::path& file, PictureAs colours, bool moves) {
    ContentHash key;
    key.add(moves ? "one of some pictures" : "picture");
    key.add(source.contentOf(file));
    key.add(static_cast<std::uint64_t>(colours));
    return {key.value(), [read = source.read, file, colours] {
                StoredPicture stored = read(file, colours);
                if (auto* image = std::get_if<Image>(&stored))
                    return MediaFrame{bytePixels(image->width, image->height,
                                                 std::make_shared<const std::vector<std::uint8_t>>(std::move(image->pixels)), colours)};
                const FloatPicture& picture = std::get<FloatPicture>(stored);
                Pixels<glm::vec4> light{picture.width, picture.height, std::vector<glm::vec4>(picture.light.size())};
                for (std::size_t i = 0; i < light.pixels.size(); ++i)
                    light.pixels[i] = glm::vec4(picture.light[i], picture.alpha.empty() ? 1.0f : picture.alpha[i]);
                return MediaFrame{std::move(light)};
            }};
}

const MediaKind pictureMedia = shows(
    DescribeMedia<PictureMedia>("picture", "Picture", "One picture from a file")
        .found("image photo texture map bitmap png jpeg exr hdr")
        .file("file", &PictureMedia::file, {".png", ".jpg", ".jpeg", ".exr", ".hdr"},
              "A PNG, JPEG, OpenEXR or HDR file in the project's folder")
        .choice("colours", &PictureMedia::colours, pictureColours(),
                "Light: 8 and 16 bit colours are decoded from sRGB. Plain numbers: as they are written, for depths and masks. Floating "
                "colours are linear in either case"),
    shown, +[](const PictureMedia&) { return false; }, told);

}  // namespace gswarm
