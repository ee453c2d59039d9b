#pragma once
#include <unistd.h>

#include <utility>

namespace gswarm {

/// A file of the system that closes itself; below 0 for none.
struct Descriptor {
    int number = -1;
    Descriptor() = default;
    explicit Descriptor(int n) : number(n) {}
    ~Descriptor() {
        if (number >= 0) ::close(number);
    }
    Descriptor(Descriptor&& other) noexcept : number(std::exchange(other.number, -1)) {}
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(Descriptor&& other) noexcept {
        std::swap(number, other.number);
        return *this;
    }
};

}  // namespace gswarm
