#pragma once
#include <cstddef>
#include <new>

namespace gswarm {

/// Puts a vector's first element at a cache line, as whole-line stores need.
template <class T>
struct AlignedAllocator {
    using value_type = T;
    static constexpr std::align_val_t alignment{64};

    AlignedAllocator() = default;
    template <class U>
    AlignedAllocator(const AlignedAllocator<U>&) {}
    T* allocate(std::size_t n) { return static_cast<T*>(::operator new(n * sizeof(T), alignment)); }
    void deallocate(T* p, std::size_t n) { ::operator delete(p, n * sizeof(T), alignment); }
    bool operator==(const AlignedAllocator&) const { return true; }
};

}  // namespace gswarm
