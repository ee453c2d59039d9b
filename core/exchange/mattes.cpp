#include "core/exchange/mattes.h"

#include <algorithm>
#include <cstdio>
#include <cstring>
#include <map>
#include <nlohmann/json.hpp>

#include "core/base/parallel.h"
#include "core/picture/moments.h"

namespace gswarm {
namespace {

constexpr const char* layerNames[] = {"CryptoInstance", "CryptoShape", "CryptoMaterial"};

std::uint32_t rotated(std::uint32_t v, int bits) { return v << bits | v >> (32 - bits); }

/// Austin Appleby's MurmurHash3_x86_32 (public domain).
std::uint32_t murmur(const std::string& text) {
    std::uint32_t hash = 0;
    const auto mix = [](std::uint32_t word) { return rotated(word * 0xcc9e2d51u, 15) * 0x1b873593u; };
    std::size_t at = 0;
    for (; at + 4 <= text.size(); at += 4) {
        std::uint32_t word = 0;
        std::memcpy(&word, text.data() + at, 4);
        hash = rotated(hash ^ mix(word), 13) * 5 + 0xe6546b64u;
    }
    std::uint32_t rest = 0;
    std::memcpy(&rest, text.data() + at, text.size() - at);
    if (at < text.size()) hash ^= mix(rest);
    hash ^= static_cast<std::uint32_t>(text.size());
    hash ^= hash >> 16, hash *= 0x85ebca6bu, hash ^= hash >> 13, hash *= 0xc2b2ae35u;
    return hash ^ hash >> 16;
}

std::string inHex(std::uint32_t value) {
    char text[9];
    std::snprintf(text, sizeof text, "%08x", value);
    return text;
}

std::string materialName(const Scene& scene, const Object* wearer, std::string_view slot, const char* otherwise) {
    const Object* material = wearer ? scene.find(referenceOf(wearer->part(slot), "material")) : nullptr;
    return material ? material->name : otherwise;
}

/// Copies by symmetry are things of their own, and so is what a swarm shows in each instance that repeats it.
std::string ofCopy(const Surface& surface) {
    const std::string copy = surface.copy ? "/copy " + std::to_string(surface.copy) : "";
    return surface.path ? copy + "/in " + std::to_string(surface.path) : copy;
}

/// What the things of a surface are called; of instances without their id.
std::string nameOf(const Scene& scene, const Surface& surface, MatteBy by) {
    const Object* shape = scene.find(surface.shape);
    const std::string shapeName = shape ? shape->name : "shape";
    if (by == MatteBy::shape) return shapeName;
    if (by == MatteBy::instance && !surface.swarm) return shapeName + ofCopy(surface);
    if (by == MatteBy::instance) return scene.at(surface.swarm->swarm).name;
    if (!surface.swarm) return materialName(scene, shape, "display", "stone");
    const Variant& variant = surface.swarm->variants[surface.swarm->columns->variant[surface.instances().front()]];
    return materialName(scene, scene.find(variant.stock), "entry", "clay");
}

/// The names of some things, ascending.
std::vector<std::string> namesOf(const Scene& scene, const DrawList& list, const std::vector<std::uint32_t>& things, MatteBy by) {
    std::vector<std::string> names;
    std::size_t first = 1, at = 0;
    for (const Surface& surface : list.surfaces) {
        const std::size_t end = first + thingCount(surface);
        const std::size_t from = at;
        while (at < things.size() && things[at] < end) ++at;
        if (at > from) {
            const std::string name = nameOf(scene, surface, by);
            if (by == MatteBy::instance && surface.swarm) {
                std::vector<std::uint32_t> rows;
                for (std::size_t k = from; k < at; ++k) rows.push_back(surface.instances()[things[k] - first]);
                for (const std::uint64_t id : idsOfRows(surface.swarm->home, rows))
                    names.push_back(name + "/" + std::to_string(id) + ofCopy(surface));
            } else {
                names.resize(names.size() + (at - from), name);
            }
        }
        first = end;
    }
    names.resize(things.size(), "floor");
    return names;
}

}  // namespace

std::uint32_t matteHash(const std::string& name) {
    std::uint32_t hash = murmur(name);
    const std::uint32_t exponent = hash >> 23 & 255;
    if (exponent == 0 || exponent == 255) hash ^= 1u << 23;
    return hash;
}

Mattes mattesOf(const Scene& scene, const DrawList& list, const Film& film, MatteBy by) {
    std::vector<std::uint32_t> things;
    for (const auto& pixel : film.layers.things)
        for (const FilmLayers::Covers& one : pixel) things.push_back(one.thing);
    std::sort(things.begin(), things.end());
    things.erase(std::unique(things.begin(), things.end()), things.end());
    const std::vector<std::string> names = namesOf(scene, list, things, by);
    Mattes mattes{by, {}, std::vector<std::vector<MatteShare>>(film.pixels.size())};
    std::map<std::string, std::uint32_t> known;
    std::vector<std::uint32_t> hashes;
    for (const std::string& name : names) hashes.push_back(known.try_emplace(name, matteHash(name)).first->second);
    mattes.names.assign(known.begin(), known.end());
    forRanges(film.pixels.size(), 4096, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            auto& shares = mattes.pixels[i];
            const float samples = std::max(1.0f, static_cast<float>(film.pixels[i].samples));
            for (const FilmLayers::Covers& one : film.layers.things[i]) {
                const std::uint32_t hash =
                    hashes[static_cast<std::size_t>(std::lower_bound(things.begin(), things.end(), one.thing) - things.begin())];
                const auto found = std::find_if(shares.begin(), shares.end(), [&](const MatteShare& share) { return share.hash == hash; });
                if (found != shares.end())
                    found->coverage += one.coverage / samples;
                else
                    shares.push_back({hash, one.coverage / samples});
            }
            std::sort(shares.begin(), shares.end(), [](const MatteShare& a, const MatteShare& b) {
                return a.coverage != b.coverage ? a.coverage > b.coverage : a.hash < b.hash;
            });
        }
    });
    return mattes;
}

void addMattes(ExrColumns& file, const Mattes& mattes, int ranks) {
    const std::string layer = layerNames[static_cast<int>(mattes.by)];
    const std::string key = "cryptomatte/" + inHex(murmur(layer)).substr(0, 7);
    nlohmann::ordered_json manifest = nlohmann::ordered_json::object();
    for (const auto& [name, hash] : mattes.names) manifest[name] = inHex(hash);
    file.note(key + "/name", layer);
    file.note(key + "/hash", "MurmurHash3_32");
    file.note(key + "/conversion", "uint32_to_float32");
    file.note(key + "/manifest", manifest.dump());
    const char* channels[] = {"R", "G", "B", "A"};
    for (int rank = 0; rank < ranks; ++rank) {
        const std::string number = "0" + std::to_string(rank / 2);
        const auto share = [&, rank](std::size_t i) {
            const auto& shares = mattes.pixels[i];
            return static_cast<std::size_t>(rank) < shares.size() ? shares[static_cast<std::size_t>(rank)] : MatteShare{0, 0};
        };
        const auto add = [&](int channel, const std::function<float(std::size_t)>& at) {
            file.add(layer + number + "." + channels[rank % 2 * 2 + channel], ExrPrecision::full, at);
        };
        add(0, [&](std::size_t i) {
            float id = 0;
            const std::uint32_t hash = share(i).hash;
            std::memcpy(&id, &hash, sizeof id);
            return id;
        });
        add(1, [&](std::size_t i) { return share(i).coverage; });
    }
}

}  // namespace gswarm
