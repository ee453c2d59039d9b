#include "app/picture/view_request.h"

#include "app/theme/theme.h"

using namespace gswarm;

namespace {

live::LivePicture livePictureOf(const ViewRequest& request, const Evaluated* evaluated) {
    live::LivePicture picture;
    picture.setting = request.setting;
    picture.setting.camera = request.camera.camera();
    picture.ground = request.ground;
    picture.steps = request.steps;
    if (!evaluated) return picture;
    picture.list = drawListOf(evaluated->swarms);
    for (const Ghost& ghost : evaluated->ghosts) picture.ghosts.push_back({drawListOf({&ghost.swarm, 1}), ghost.strength});
    if (!request.weights || evaluated->weights.empty()) return picture;
    picture.coloured = evaluated->weighed;
    for (const float weight : evaluated->weights) {
        const QColor c = theme::weightColour(weight);
        picture.colours.push_back(static_cast<std::uint32_t>(c.red() | c.green() << 8 | c.blue() << 16) | 255u << 24);
    }
    return picture;
}

}  // namespace

QRect variationRect(int number, QSize whole) {
    const int column = number % 3, row = number / 3;
    const int left = whole.width() * column / 3, right = whole.width() * (column + 1) / 3;
    const int top = whole.height() * row / 3, bottom = whole.height() * (row + 1) / 3;
    return {left, top, std::max(right - left, 1), std::max(bottom - top, 1)};
}

QImage drawn(live::Renderer& renderer, ViewRequest request, const std::atomic<bool>& cancelled) {
    if (request.store) addPictures(request.setting, request.folder, *request.store);
    const int width = request.pixels.width(), height = request.pixels.height();
    std::optional<Image> image;
    if (!request.evaluated || request.evaluated->variations.empty()) {
        image = renderer.draw(livePictureOf(request, request.evaluated.get()), width, height, cancelled);
    } else {
        request.weights = false;
        request.steps.shadows = false;
        std::vector<live::Tile> tiles;
        for (std::size_t k = 0; k < request.evaluated->variations.size(); ++k) {
            const QRect rect = variationRect(static_cast<int>(k), request.pixels);
            tiles.push_back(
                {livePictureOf(request, request.evaluated->variations[k].shown.get()), {rect.x(), rect.y(), rect.width(), rect.height()}});
        }
        image = renderer.draw(tiles, width, height, cancelled);
    }
    if (!image) return {};
    return QImage(image->pixels.data(), image->width, image->height, QImage::Format_RGBA8888).copy();
}
