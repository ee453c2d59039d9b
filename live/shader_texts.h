#pragma once
#include <string_view>

/// The shaders of live/shaders, as they were when the program was made.
namespace gswarm::live {

std::string_view commonGlsl();
std::string_view swarmVert();
std::string_view swarmFrag();
std::string_view groundVert();
std::string_view groundFrag();
std::string_view shadowVert();
std::string_view shadowFrag();

}  // namespace gswarm::live
