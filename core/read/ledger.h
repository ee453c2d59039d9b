#pragma once
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "core/evaluate/evaluator.h"

namespace gswarm {

/// One column that a ledger can show.
struct LedgerColumn {
    std::string id;     ///< "number", "id", "copy", "shape", "shown", "position_x" … "alpha", or the id of a named value or a rail entry
    std::string label;  ///< for people: "Position X", a named value's name, "Weight of Rise"
    std::string unit;
    std::string summary;
};

/// All columns for a swarm, in the order in which they stand side by side.
std::vector<LedgerColumn> ledgerColumns(const Scene& scene, ObjectId swarm);
/// Those that are shown until a person chooses, the swarm's named values among them.
std::vector<std::string> standardLedgerColumns(const Scene& scene, ObjectId swarm);

/// Copies of a swarm's instances may be listed up to so many rows.
inline constexpr double mostLedgerRows = 50e6;

struct LedgerQuery {
    std::vector<std::string> columns;  ///< ids; unknown ones are passed over
    std::string filter;                ///< a condition such as `yNow > 1 && chance(1) < 0.5`, as typed; empty lists all
    std::string sortBy;                ///< a column's id; empty keeps the order of numbers
    bool descending = false;
    bool copies = false;  ///< lists those by symmetry too, each behind its original, with a column that tells which

    bool operator==(const LedgerQuery&) const = default;
};

/// Numbers of all instances of a swarm at one frame, in world space, colours sRGB-encoded, rotation as three turns about
/// X, then Y, then Z in degrees.
struct Ledger {
    ObjectId swarm;
    double frame = 0;
    int count = 0;   ///< rows, also those that the filter leaves out: instances, with their copies where these are listed
    int copies = 1;  ///< rows of one instance
    std::vector<LedgerColumn> columns;
    std::vector<std::vector<float>> values;  ///< one for each column, by row; empty for "id"
    std::vector<std::uint64_t> ids;          ///< by row
    std::vector<std::string> shapes;         ///< what the numbers in the column "shape" stand for
    std::vector<std::uint32_t> rows;         ///< those that are listed, in their order

    /// As people read it, in the row and column of the list.
    std::string text(std::size_t row, std::size_t column) const;
    std::uint64_t idOf(std::size_t row) const { return ids[rows[row]]; }
};

/// Reads a prepared plan on all cores of the evaluator. Throws FormulaError for a filter that can't be understood,
/// Cancelled between blocks.
std::shared_ptr<const Ledger> readLedger(Evaluator& evaluator, const Plan& plan, const Scene& scene, const LedgerQuery& query,
                                         Progress& progress);

/// The listed rows as text with a tab between columns and a line for each, the labels first; at most `most` rows.
std::string tabbedText(const Ledger& ledger, const std::vector<std::uint32_t>& rows, std::size_t most);

}  // namespace gswarm
