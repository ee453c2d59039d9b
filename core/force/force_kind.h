#pragma once
#include "core/base/block.h"
#include "core/scene/describe.h"
#include "core/scene/rail_source.h"

namespace gswarm {

/// The first row of every force's table.
struct ForceBasics {
    float strength;  ///< percent
};

struct ForceInput {
    const void* data;       ///< the kind's struct at this frame, prepared
    const Columns3& local;  ///< places in the force's own axes, world metres
    int count;              ///< a multiple of 16
    Moment moment;

    template <class T>
    const T& as() const {
        return *static_cast<const T*>(data);
    }
};

/// What a force does at each place, in its own axes: what moves there with the speed v is accelerated by push − grip · v. So a current
/// of speed u that takes hold of things by a grip g pushes with g · u.
struct ForceColumns {
    Columns3 push;              ///< metres a second, each second
    alignas(64) Column grip{};  ///< a second
};

/// Accelerates what moves freely; where it does, and how much, is woven of zones like where a gesture acts.
struct ForceKind : Kind {
    std::function<void(const ForceInput&, ForceColumns&)> act;  ///< fills all columns as far as `count`
    /// Asks for what the force reads beside its own numbers.
    std::function<void(void*, const RailSource&)> prepare;
    /// Whether it changes by time alone.
    std::function<bool(const void*)> moves;
};

template <class T>
ForceKind makes(Describe<T, ForceKind>& described, void (*act)(const ForceInput&, ForceColumns&)) {
    ForceKind kind = described.kind();
    kind.act = act;
    return kind;
}
template <class T>
ForceKind preparing(ForceKind kind, void (*prepare)(T&, const RailSource&)) {
    kind.prepare = [prepare](void* data, const RailSource& source) { prepare(*static_cast<T*>(data), source); };
    return kind;
}

/// A table that begins with the rows that all forces have.
template <class T>
struct DescribeForce : Describe<T, ForceKind> {
    DescribeForce(std::string id, std::string label, std::string summary)
        : Describe<T, ForceKind>(Family::force, std::move(id), std::move(label), std::move(summary)) {
        this->number("strength", &T::strength, 100, {0, 100}, "How strongly the whole force acts").unit("%").hard(-1e4, 1e4);
    }
    /// For currents: how firmly they take things along.
    DescribeForce& grips(double standard) {
        this->number("grip", &T::grip, standard, {0, 20}, "How firmly it takes things along: in a second divided by this they gain 63 %")
            .unit("1/s")
            .hard(0, 1e3);
        return *this;
    }
};

extern const ForceKind windForce, turbulenceForce, attractionForce, vortexForce, dragForce;

}  // namespace gswarm
