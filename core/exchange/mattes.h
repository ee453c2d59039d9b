#pragma once
#include <cstdint>
#include <string>
#include <vector>

#include "core/exchange/exr_columns.h"
#include "core/picture/draw_list.h"
#include "core/picture/film.h"

namespace gswarm {

/// What a matte is told apart by.
enum class MatteBy { instance, shape, material };

/// How much of a pixel each of the names covers, most first.
struct MatteShare {
    std::uint32_t hash;  ///< of the name, as Cryptomatte has it
    float coverage;      ///< 0 … 1
};

/// MurmurHash3 of 32 bits with seed 0, with the bits turned that would make it no number as a float (Cryptomatte specification 1.2).
std::uint32_t matteHash(const std::string& name);

/// The names of all things of a list that a film saw, and each pixel's shares of them.
struct Mattes {
    MatteBy by;
    std::vector<std::pair<std::string, std::uint32_t>> names;  ///< with their hashes, each once
    std::vector<std::vector<MatteShare>> pixels;
};
/// Instances are called by their swarm and id, “Tidal floor/12”; what has no material “clay” or “stone”; the floor “floor”. What is in a
/// film twice under one name counts together. The film has gathered things.
Mattes mattesOf(const Scene& scene, const DrawList& list, const Film& film, MatteBy by);

/// Adds Cryptomatte's channels, of full floats, and its notes with the manifest embedded: the `ranks` names that cover most of each pixel,
/// two to a layer.
void addMattes(ExrColumns& file, const Mattes& mattes, int ranks);

}  // namespace gswarm
