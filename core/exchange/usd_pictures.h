#pragma once
#include <filesystem>
#include <map>
#include <tuple>

#include "core/exchange/usd_text.h"
#include "core/material/material.h"

namespace gswarm::usd {

/// The pictures that a stage's materials refer to, in a folder beside it, each once.
class Pictures {
  public:
    /// The folder of a stage: NAME-pictures beside NAME.usda.
    explicit Pictures(std::filesystem::path folder) : folder_(std::move(folder)) {}
    static std::filesystem::path folderOf(const std::filesystem::path& stage);

    /// Gives the shader `surface` of the material at `path` what is on a plain look's colour, roughness and glow, and the material the
    /// shaders that read it. The numbers that the look has besides multiply it. A picture on colour takes the place of instances'
    /// colours, which the surface of USD can't multiply; bumps are the normals that they give a mesh of so many metres for a step in U and
    /// V, as high as `now` has them. `now` tells which there are.
    void add(Prim& material, Prim& surface, const std::string& path, const Look& now, const std::function<Look(int frame)>& look,
             const glm::vec2& metresPerUv);
    /// Writes all that were added. Throws Error with nothing left behind.
    void write() const;

  private:
    enum class Use { colour, roughness, glow, ownGlow };
    std::string fileOf(const SurfacePictures& pictures, Use use);
    std::string normalsOf(const FloatPicture& bump, const glm::vec2& slope);
    /// Of what instances show at a frame, each of their own: one of a sequence.
    std::string sheetOf(const ShownPictures& shown, int frame);
    void addShown(Prim& material, Prim& surface, const std::string& path, const Look& now, const std::function<Look(int frame)>& look);

    std::filesystem::path folder_;
    std::map<std::vector<const void*>, std::string> names_;
    std::map<std::tuple<const FloatPicture*, float, float>, std::string> normals_;
    std::map<std::uint64_t, std::string> sheets_;  ///< by what is in them
    std::map<std::string, std::string> made_;      ///< files by their names
};

}  // namespace gswarm::usd
