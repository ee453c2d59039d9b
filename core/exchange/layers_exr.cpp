#include "core/exchange/layers_exr.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/exchange/mattes.h"
#include "core/light/light_kind.h"

namespace gswarm {
namespace {

using glm::vec3;

/// Dots part a layer from its channels.
std::string layerName(std::string name) {
    constexpr std::size_t longest = 200;
    for (char& c : name)
        if (c == '.' || static_cast<unsigned char>(c) < 32) c = '_';
    if (name.size() > longest) name.resize(longest);
    return name;
}

/// The file of a layer where it has one of its own.
std::filesystem::path fileOf(const std::filesystem::path& path, const std::string& layer) {
    return path.parent_path() / (path.stem().string() + "." + layer + path.extension().string());
}

bool mattesApart(const LayersWanted& wanted) {
    return wanted.mattes && (wanted.files == LayerFiles::each || !keepsAll(wanted.compression));
}

/// The files of a picture while their layers are put together.
class Files {
  public:
    Files(const LayersWanted& wanted, const Film& film, std::filesystem::path path)
        : wanted_(wanted), film_(film), path_(std::move(path)) {}

    ExrColumns& light() { return file(path_, wanted_.compression); }
    ExrColumns& layer(const std::string& name) {
        return wanted_.files == LayerFiles::each ? file(fileOf(path_, name), wanted_.compression) : light();
    }
    ExrColumns& mattes() {
        const ExrCompression compression = keepsAll(wanted_.compression) ? wanted_.compression : ExrCompression::zip;
        return mattesApart(wanted_) ? file(fileOf(path_, "mattes"), compression) : light();
    }
    void write(const std::map<std::string, std::string>& notes) {
        for (auto& [path, columns] : files_)
            for (const auto& [name, text] : notes) columns.note(name, text);
        for (const auto& [path, columns] : files_)
            if (path != path_) columns.write(path);
        light().write(path_);
    }

  private:
    ExrColumns& file(const std::filesystem::path& path, ExrCompression compression) {
        return files_.try_emplace(path, film_.width, film_.height, compression).first->second;
    }

    const LayersWanted& wanted_;
    const Film& film_;
    std::filesystem::path path_;
    std::map<std::filesystem::path, ExrColumns> files_;
};

/// Adds three channels with the letters of a layer; an empty one is the light itself.
void addThree(ExrColumns& file, const std::string& layer, const char* letters, ExrPrecision precision,
              const std::function<vec3(std::size_t)>& at) {
    for (int c = 0; c < 3; ++c)
        file.add((layer.empty() ? "" : layer + ".") + letters[c], precision, [&](std::size_t i) { return at(i)[c]; });
}

}  // namespace

LightGroups lightGroupsOf(const Scene& scene) {
    LightGroups groups{{"glow"}, {}};
    const auto groupNamed = [&](const Object& object) {
        const Object* group = scene.find(object.group);
        const std::string name = layerName(group ? group->name : object.name);
        const auto found = std::find(groups.names.begin(), groups.names.end(), name);
        if (found != groups.names.end()) return static_cast<int>(found - groups.names.begin());
        groups.names.push_back(name);
        return static_cast<int>(groups.names.size()) - 1;
    };
    for (const ObjectId light : scene.all(ObjectType::light)) {
        if (isRepeated(scene, light)) continue;
        const int group = groupNamed(scene.at(light));
        groups.layering.groupOf[light] = group;
        // Skies are added up before they shine: they count as the first of them.
        if (scene.at(light).part("light").kind == &skyLight && groups.layering.skyGroup == 0) groups.layering.skyGroup = group;
    }
    for (const ObjectId swarm : scene.all(ObjectType::swarm))
        for (const ObjectId entry : scene.at(swarm).list("stock"))
            if (referenceOf(scene.at(entry).part("entry"), "shape").type() == ObjectType::light)
                groups.layering.groupOf[swarm] = groupNamed(scene.at(swarm));
    groups.layering.lightGroups = static_cast<int>(groups.names.size());
    return groups;
}

std::vector<std::filesystem::path> layerFiles(const LayersWanted& wanted, const std::filesystem::path& path) {
    std::vector<std::filesystem::path> files{path};
    if (wanted.files == LayerFiles::each)
        for (const auto& [name, is] : {std::pair{"albedo", wanted.albedo},
                                       {"normal", wanted.normal},
                                       {"depth", wanted.depth},
                                       {"position", wanted.position},
                                       {"motion", wanted.motion},
                                       {"emission", wanted.emission},
                                       {"lights", wanted.lights}})
            if (is) files.push_back(fileOf(path, name));
    if (mattesApart(wanted)) files.push_back(fileOf(path, "mattes"));
    return files;
}

void writeLayers(const LayersWanted& wanted, const LinearPicture& picture, const Film& film, const LightGroups& groups, const Scene& scene,
                 const DrawList& list, const std::map<std::string, std::string>& notes, const std::filesystem::path& path) {
    Files files(wanted, film, path);
    const FilmLayers& layers = film.layers;
    const auto samples = [&](std::size_t i) { return std::max(1.0f, static_cast<float>(film.pixels[i].samples)); };
    const auto meanOf = [&](const std::vector<vec3>& sums) {
        return [&](std::size_t i) { return film.pixels[i].coverage > 0 ? sums[i] / film.pixels[i].coverage : vec3(0); };
    };
    const auto partOf = [&](const std::vector<vec3>& sums) { return [&](std::size_t i) { return sums[i] / samples(i); }; };
    addThree(files.light(), "", "RGB", wanted.precision, [&](std::size_t i) { return picture.light[i]; });
    files.light().add("A", wanted.precision, [&](std::size_t i) { return picture.coverage[i]; });
    if (wanted.albedo)
        addThree(files.layer("albedo"), "albedo", "RGB", wanted.precision,
                 [&](std::size_t i) { return film.pixels[i].albedo / samples(i); });
    if (wanted.normal) addThree(files.layer("normal"), "normal", "XYZ", wanted.precision, [&](std::size_t i) { return picture.normal[i]; });
    if (wanted.depth)
        files.layer("depth").add("depth.Z", ExrPrecision::full,
                                 [&](std::size_t i) { return picture.coverage[i] > 0 ? picture.depth[i] : farthestDepth; });
    if (wanted.position) addThree(files.layer("position"), "position", "XYZ", ExrPrecision::full, meanOf(layers.place));
    if (wanted.motion)
        for (int c = 0; c < 2; ++c)
            files.layer("motion").add(std::string("motion.") + "XY"[c], ExrPrecision::full, [&](std::size_t i) {
                return film.pixels[i].coverage > 0 ? layers.motion[i][c] / film.pixels[i].coverage : 0.0f;
            });
    if (wanted.emission) addThree(files.layer("emission"), "emission", "RGB", wanted.precision, partOf(layers.emission));
    if (wanted.lights)
        for (std::size_t g = 0; g < groups.names.size(); ++g)
            addThree(files.layer("lights"), "light." + groups.names[g], "RGB", wanted.precision, partOf(layers.groups[g]));
    if (wanted.mattes)
        for (const MatteBy by : {MatteBy::instance, MatteBy::shape, MatteBy::material})
            addMattes(files.mattes(), mattesOf(scene, list, film, by), wanted.ranks);
    files.write(notes);
}

}  // namespace gswarm
