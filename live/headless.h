#pragma once

namespace gswarm::live {

/// An OpenGL context without a window or a display server, current on the thread that made it as long as it lives.
class Headless {
  public:
    /// Throws Error with a sentence where EGL offers none.
    Headless();
    ~Headless();
    Headless(const Headless&) = delete;
    Headless& operator=(const Headless&) = delete;

  private:
    void* display_ = nullptr;
    void* context_ = nullptr;
};

}  // namespace gswarm::live
