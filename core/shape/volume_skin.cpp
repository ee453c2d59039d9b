#include "core/shape/volume_skin.h"

#include <dlfcn.h>

#include "core/base/companion.h"
#include "core/base/error.h"

namespace gswarm {
namespace {

using Make = void (*)(const SkinWanted&, Skin&);

/// Stays loaded.
Make loaded() {
    const std::filesystem::path module = Companion::program("gswarm-volume.so");
    void* opened = module.empty() ? nullptr : ::dlopen(module.c_str(), RTLD_NOW | RTLD_LOCAL);
    const auto make = opened ? reinterpret_cast<Make>(::dlsym(opened, "gswarmMakeSkin")) : nullptr;
    if (!make) throw Error("Its module gswarm-volume.so is missing beside this program or can't be loaded; install Gilded Swarm again.");
    return make;
}

}  // namespace

Skin skinOf(const SkinWanted& wanted) {
    static const Make make = loaded();
    Skin skin;
    make(wanted, skin);
    return skin;
}

}  // namespace gswarm
