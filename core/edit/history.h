#pragma once
#include <string>
#include <vector>

#include "core/edit/edit.h"

namespace gswarm {

/// The project's past and future. Holds whole scenes; they share what edits left alone.
class History {
  public:
    explicit History(Scene scene) : present_(std::move(scene)) {}

    const Scene& scene() const { return present_; }
    /// Makes the edit the present. Joins the last step if both have the same merge key and no seal lies between.
    void apply(Edit edit, ObjectId chosenBefore);
    /// The next edit starts a step of its own, as at the end of a drag.
    void seal() { sealed_ = true; }

    /// How many steps can be undone.
    std::size_t steps() const { return past_.size(); }
    /// All that was applied since there were so many steps is one step from now on, called so. Nothing if there was nothing.
    void join(std::size_t since, const std::string& label);

    bool canUndo() const { return !past_.empty(); }
    bool canRedo() const { return !future_.empty(); }
    std::string undoLabel() const { return past_.empty() ? "" : past_.back().label; }
    std::string redoLabel() const { return future_.empty() ? "" : future_.back().label; }
    /// Each returns what was chosen on the other side of the step.
    ObjectId undo(ObjectId chosenNow);
    ObjectId redo(ObjectId chosenNow);

  private:
    struct Step {
        Scene scene;
        std::string label, mergeKey;
        ObjectId chosen;
    };
    Scene present_;
    std::vector<Step> past_, future_;
    bool sealed_ = true;
};

}  // namespace gswarm
