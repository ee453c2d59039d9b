#include "live/program.h"

#include <epoxy/gl.h>

#include <array>

#include "core/base/error.h"

namespace gswarm::live {
namespace {

unsigned compiled(GLenum type, const std::string& head, std::string_view common, std::string_view own) {
    const unsigned shader = glCreateShader(type);
    const char* texts[] = {head.data(), common.data(), own.data()};
    const int lengths[] = {static_cast<int>(head.size()), static_cast<int>(common.size()), static_cast<int>(own.size())};
    glShaderSource(shader, 3, texts, lengths);
    glCompileShader(shader);
    int fine = 0;
    glGetShaderiv(shader, GL_COMPILE_STATUS, &fine);
    if (fine) return shader;
    std::array<char, 2000> said{};
    glGetShaderInfoLog(shader, static_cast<int>(said.size()), nullptr, said.data());
    glDeleteShader(shader);
    throw Error(std::string("The view can't be drawn: the graphics driver refused a shader (") + said.data() + ").");
}

}  // namespace

Program::Program(std::span<const char* const> features, std::string_view common, std::string_view vertex, std::string_view fragment) {
    std::string head = "#version 330 core\n";
    for (const char* feature : features) head += std::string("#define ") + feature + "\n";
    const unsigned first = compiled(GL_VERTEX_SHADER, head + "#define VERTEX\n", common, vertex),
                   second = compiled(GL_FRAGMENT_SHADER, head, common, fragment);
    program_ = glCreateProgram();
    for (const unsigned shader : {first, second}) {
        glAttachShader(program_, shader);
        glDeleteShader(shader);
    }
    glLinkProgram(program_);
    int fine = 0;
    glGetProgramiv(program_, GL_LINK_STATUS, &fine);
    if (fine) return;
    glDeleteProgram(program_);
    throw Error("The view can't be drawn: the graphics driver can't put two shaders together.");
}

Program::~Program() { glDeleteProgram(program_); }

void Program::bind() const { glUseProgram(program_); }

int Program::place(const char* name) {
    const auto found = places_.find(std::string_view(name));
    return found != places_.end() ? found->second : places_[name] = glGetUniformLocation(program_, name);
}

void Program::set(const char* name, int value) { glUniform1i(place(name), value); }
void Program::set(const char* name, float value) { glUniform1f(place(name), value); }
void Program::set(const char* name, const glm::vec2& value) { glUniform2fv(place(name), 1, &value[0]); }
void Program::set(const char* name, const glm::vec3& value) { glUniform3fv(place(name), 1, &value[0]); }
void Program::set(const char* name, const glm::vec4& value) { glUniform4fv(place(name), 1, &value[0]); }
void Program::set(const char* name, const glm::mat4& value) { glUniformMatrix4fv(place(name), 1, GL_FALSE, &value[0][0]); }
void Program::set(const char* name, std::span<const float> values) {
    glUniform1fv(place(name), static_cast<int>(values.size()), values.data());
}
void Program::set(const char* name, std::span<const glm::vec3> values) {
    glUniform3fv(place(name), static_cast<int>(values.size()), &values.front()[0]);
}
void Program::set(const char* name, std::span<const glm::vec4> values) {
    glUniform4fv(place(name), static_cast<int>(values.size()), &values.front()[0]);
}
void Program::set(const char* name, std::span<const glm::mat4> values) {
    glUniformMatrix4fv(place(name), static_cast<int>(values.size()), GL_FALSE, &values.front()[0][0]);
}

}  // namespace gswarm::live
