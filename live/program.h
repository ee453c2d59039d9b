#pragma once
#include <glm/mat4x4.hpp>
#include <glm/vec4.hpp>
#include <map>
#include <span>
#include <string>
#include <string_view>

namespace gswarm::live {

/// A shader program with its uniforms by name. Belongs to the context that is current when it is made.
class Program {
  public:
    /// What both shaders have in common comes before each, and before that a line "#define NAME" for every feature. Throws Error if
    /// the driver refuses one.
    Program(std::span<const char* const> features, std::string_view common, std::string_view vertex, std::string_view fragment);
    ~Program();
    Program(const Program&) = delete;
    Program& operator=(const Program&) = delete;

    void bind() const;
    /// Of the bound program; a name that no shader uses is passed over.
    void set(const char* name, int value);
    void set(const char* name, float value);
    void set(const char* name, const glm::vec2& value);
    void set(const char* name, const glm::vec3& value);
    void set(const char* name, const glm::vec4& value);
    void set(const char* name, const glm::mat4& value);
    void set(const char* name, std::span<const float> values);
    void set(const char* name, std::span<const glm::vec3> values);
    void set(const char* name, std::span<const glm::vec4> values);
    void set(const char* name, std::span<const glm::mat4> values);

  private:
    int place(const char* name);

    unsigned program_ = 0;
    std::map<std::string, int, std::less<>> places_;
};

}  // namespace gswarm::live
