#pragma once
#include <string_view>

#include "core/shape/homes.h"

namespace gswarm {

/// Points from a table of text, in the file's own lengths.
///
/// A row is split at semicolons if it has some, else at tabs, else at commas, else at blanks; fields may stand in quotes.
/// Behind semicolons and tabs a comma is a decimal comma. Empty rows and rows that begin with # are passed over.
///
/// A first row of names says what the columns are, in any order: x y z (or px …, position_x …), id, nx ny nz (normal_x …)
/// or qx qy qz qw (quaternion_x …), scale or size, scale_x … (or sx …), r g b a (red …, sRGB-encoded, 0 … 1; 0 … 255
/// where one is above 1), shown. `number` and `shape` are passed over; every other column is a named value. Without names
/// rows are x, y, z or x, y, z and a normal. The id is the row unless there is a column of ids.
///
/// Throws Error with the end of a sentence that begins with the file's name, and the row: no names for x, y and z, names
/// that stand twice, rows of another length than the first, what is no number that a float holds, ids that stand twice,
/// more than mostInstances rows.
Homes readPointsCsv(std::string_view text);

}  // namespace gswarm
