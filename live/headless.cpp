#include "live/headless.h"

#include <epoxy/egl.h>

#include "core/base/error.h"

namespace gswarm::live {

Headless::Headless() {
    const Error none(
        "This machine offers no OpenGL 3.3 without a display, not even in software (install Mesa's libegl1 and libgl1-mesa-dri); traced "
        "pictures need none.");
    display_ = epoxy_has_egl_extension(EGL_NO_DISPLAY, "EGL_MESA_platform_surfaceless")
                   ? eglGetPlatformDisplayEXT(EGL_PLATFORM_SURFACELESS_MESA, EGL_DEFAULT_DISPLAY, nullptr)
                   : eglGetDisplay(EGL_DEFAULT_DISPLAY);
    if (!display_ || !eglInitialize(display_, nullptr, nullptr)) throw none;
    const EGLint settings[] = {EGL_CONTEXT_MAJOR_VERSION,           3,       EGL_CONTEXT_MINOR_VERSION, 3, EGL_CONTEXT_OPENGL_PROFILE_MASK,
                               EGL_CONTEXT_OPENGL_CORE_PROFILE_BIT, EGL_NONE};
    if (eglBindAPI(EGL_OPENGL_API)) context_ = eglCreateContext(display_, EGL_NO_CONFIG_KHR, EGL_NO_CONTEXT, settings);
    if (context_ && eglMakeCurrent(display_, EGL_NO_SURFACE, EGL_NO_SURFACE, context_)) return;
    if (context_) eglDestroyContext(display_, context_);
    eglTerminate(display_);
    throw none;
}

Headless::~Headless() {
    eglMakeCurrent(display_, EGL_NO_SURFACE, EGL_NO_SURFACE, EGL_NO_CONTEXT);
    eglDestroyContext(display_, context_);
    eglTerminate(display_);
}

}  // namespace gswarm::live
