#pragma once
#include <string>
#include <string_view>

#include "core/scene/scene.h"

namespace gswarm {

/// A formula as typed, with the names in it looked up: short names stay, a name such as `Swell.radius` or
/// `'Ball zone'.position.x` means the number of that object, and the name of a named value means each instance's own.
/// Throws FormulaError with the place where it can't be understood or a name means nothing or more than one thing.
Formula boundFormula(const Scene& scene, std::string_view text);
/// The same for a condition.
Formula boundCondition(const Scene& scene, std::string_view text);

/// The same formula after an object was renamed: every name that means one of its numbers is written anew.
Formula renamedIn(const Formula& formula, ObjectId object, const std::string& name);

/// A thing's path as a formula writes it, after its address changed: `Light.'stocking-gap'` → `Light.'stock-rule-gap'`. Where the
/// name is one that formulas know as their own, it is put in quotes.
std::string renamedPath(const std::string& written, const std::string& address, const std::string& newAddress);

/// The names by which a formula can reach the scene's numbers, for completion: "Swell.radius" …
std::vector<std::string> reachableNames(const Scene& scene);

/// An object's name as formulas write it, in quotes where it has to be.
std::string inFormula(const std::string& name);

}  // namespace gswarm
