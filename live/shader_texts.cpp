#include "live/shader_texts.h"

extern "C" {
extern const char gswarmCommonGlsl[], gswarmCommonGlslEnd[], gswarmSwarmVert[], gswarmSwarmVertEnd[], gswarmSwarmFrag[],
    gswarmSwarmFragEnd[], gswarmGroundVert[], gswarmGroundVertEnd[], gswarmGroundFrag[], gswarmGroundFragEnd[], gswarmShadowVert[],
    gswarmShadowVertEnd[], gswarmShadowFrag[], gswarmShadowFragEnd[];
}

namespace gswarm::live {
namespace {

std::string_view between(const char* begin, const char* end) { return {begin, static_cast<std::size_t>(end - begin)}; }

}  // namespace

std::string_view commonGlsl() { return between(gswarmCommonGlsl, gswarmCommonGlslEnd); }
std::string_view swarmVert() { return between(gswarmSwarmVert, gswarmSwarmVertEnd); }
std::string_view swarmFrag() { return between(gswarmSwarmFrag, gswarmSwarmFragEnd); }
std::string_view groundVert() { return between(gswarmGroundVert, gswarmGroundVertEnd); }
std::string_view groundFrag() { return between(gswarmGroundFrag, gswarmGroundFragEnd); }
std::string_view shadowVert() { return between(gswarmShadowVert, gswarmShadowVertEnd); }
std::string_view shadowFrag() { return between(gswarmShadowFrag, gswarmShadowFragEnd); }

}  // namespace gswarm::live
