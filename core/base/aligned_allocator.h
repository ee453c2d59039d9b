#pragma once
#include <sys/mman.h>
#include <cstddef>
#include <new>

namespace gswarm {

/// Puts a vector's first element at a cache line, as whole-line stores need; what is large lies on large pages, where the
/// system has them.
template <class T>
struct AlignedAllocator {
    using value_type = T;
    static constexpr std::size_t line = 64, largePage = std::size_t{2} << 20;

    AlignedAllocator() = default;
    template <class U>
    AlignedAllocator(const AlignedAllocator<U>&) {}
    T* allocate(std::size_t n) {
        void* p = ::operator new(n * sizeof(T), alignmentOf(n));
        if (isLarge(n)) madvise(p, n * sizeof(T) / largePage * largePage, MADV_HUGEPAGE);  // a wish: refused is as well
        return static_cast<T*>(p);
    }
    void deallocate(T* p, std::size_t n) { ::operator delete(p, n * sizeof(T), alignmentOf(n)); }
    bool operator==(const AlignedAllocator&) const { return true; }

  private:
    static bool isLarge(std::size_t n) { return n * sizeof(T) >= 4 * largePage; }
    static std::align_val_t alignmentOf(std::size_t n) { return std::align_val_t{isLarge(n) ? largePage : line}; }
};

/// The same for what is written before it is read: a resized vector's numbers are whatever lay there, so that each page is
/// touched first by the thread that fills it.
template <class T>
struct UntouchedAllocator : AlignedAllocator<T> {
    template <class U>
    struct rebind {
        using other = UntouchedAllocator<U>;
    };
    UntouchedAllocator() = default;
    template <class U>
    UntouchedAllocator(const UntouchedAllocator<U>&) {}
    template <class U>
    void construct(U* p) {
        ::new (static_cast<void*>(p)) U;
    }
    template <class U, class... Values>
    void construct(U* p, Values&&... values) {
        ::new (static_cast<void*>(p)) U(static_cast<Values&&>(values)...);
    }
};

}  // namespace gswarm
