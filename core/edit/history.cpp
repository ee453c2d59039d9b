#include "core/edit/history.h"

#include <utility>

namespace gswarm {

void History::apply(Edit edit, ObjectId chosenBefore) {
    const bool joins = !sealed_ && !past_.empty() && !edit.mergeKey.empty() && past_.back().mergeKey == edit.mergeKey;
    if (joins) {
        // A drag is told from where it began to where it is now.
        const auto arrow = std::string(" → ");
        const auto began = past_.back().label.find(arrow), now = edit.label.find(arrow);
        past_.back().label = began == std::string::npos || now == std::string::npos
                                 ? edit.label
                                 : past_.back().label.substr(0, began) + edit.label.substr(now);
    } else {
        past_.push_back({present_, std::move(edit.label), std::move(edit.mergeKey), chosenBefore});
    }
    present_ = std::move(edit.scene);
    future_.clear();
    sealed_ = false;
}

void History::join(std::size_t since, const std::string& label) {
    sealed_ = true;
    if (past_.size() <= since) return;
    past_.resize(since + 1);
    past_.back().label = label;
    past_.back().mergeKey.clear();
}

ObjectId History::undo(ObjectId chosenNow) {
    if (past_.empty()) return chosenNow;
    Step step = std::move(past_.back());
    past_.pop_back();
    std::swap(step.scene, present_);
    const ObjectId chosen = std::exchange(step.chosen, chosenNow);
    future_.push_back(std::move(step));
    sealed_ = true;
    return chosen;
}

ObjectId History::redo(ObjectId chosenNow) {
    if (future_.empty()) return chosenNow;
    Step step = std::move(future_.back());
    future_.pop_back();
    std::swap(step.scene, present_);
    const ObjectId chosen = std::exchange(step.chosen, chosenNow);
    past_.push_back(std::move(step));
    sealed_ = true;
    return chosen;
}

}  // namespace gswarm
