#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/scene/address.h"
#include "core/scene/scene.h"

/// What the numbers of a scene are at a frame. Numbers depend on time and on other numbers, never on evaluated instances.
namespace gswarm {

/// A track's value at a frame, in typed units. Where a formula gives no number, or names a number that is gone, it is the
/// track's own value. A formula that reads instance values has no value of its own: it is the track's own value too.
double valueAt(const Scene& scene, const Track& track, double frame);
/// The value behind an address; empty where there is none.
std::optional<double> valueAtAddress(const Scene& scene, const std::string& address, double frame);

/// A kind's struct filled in for one frame.
ResolvedPart resolve(const Scene& scene, const Part& part, double frame);
double numberAt(const Scene& scene, const Part& part, std::string_view parameter, double frame, int component = 0);
bool switchAt(const Scene& scene, const Part& part, std::string_view parameter, double frame);

/// What a followed number gives through a link.
double throughLink(const Link& link, double followed);

/// Why a track can't give a number at this frame, one sentence; empty where it does.
std::string troubleOf(const Scene& scene, const Track& track, double frame);

/// The addresses that a track reads directly.
std::vector<std::string> readBy(const Track& track);
/// Whether any number of the part changes with time.
bool moves(const Part& part);
/// The names along a chain of numbers that comes back to this one, "Swell radius → Rise strength → Swell radius"; empty if
/// there is none.
std::string circleOfNumbers(const Scene& scene, const Address& start);

/// "Swell radius", "Rise position amount x".
std::string nameOf(const Scene& scene, const Address& address);

}  // namespace gswarm
