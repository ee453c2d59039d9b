#pragma once
#include <memory>
#include <span>

#include "core/base/block.h"
#include "core/formula/program.h"
#include "core/scene/rail_source.h"
#include "core/scene/value.h"

namespace gswarm {

/// A formula of an instance, as a kind's struct holds it: the text until it is prepared, then its program too.
struct InstanceFormula {
    Formula formula;
    std::shared_ptr<const FormulaProgram> program;

    InstanceFormula& operator=(const Formula& typed) {
        formula = typed;
        program.reset();
        return *this;
    }
    bool readsTime() const;
    /// Nothing but the place, at home or now, and time: it can be asked where no instance stands. For one that is prepared.
    bool readsOnlyPlace() const;
};

/// Compiles it with the numbers of other objects as they are at the source's moment. Throws FormulaError.
void prepareFormula(InstanceFormula& formula, const RailSource& source);
/// The same for a condition.
void prepareCondition(InstanceFormula& formula, const RailSource& source);

/// Runs a program whose inputs are those of FormulaInput and then `named`, columns that are valid up to paddedCount.
void runInBlock(const FormulaProgram& program, Block& block, const Moment& moment, const LaneNumber& offset,
                std::span<const float* const> named, float* out);

/// Fills out[i] for the block, as far as paddedCount; `offset` is each instance's own time minus the moment's, frames.
/// What is no number or infinite is left for the card to deal with. Uses block.formula.
void runFormula(const InstanceFormula& formula, Block& block, const Moment& moment, const LaneNumber& offset, float* out);

}  // namespace gswarm
