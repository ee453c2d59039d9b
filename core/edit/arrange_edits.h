#pragma once
#include <vector>

#include "core/edit/edit.h"

/// Edits of the scene list: groups, order, copies. They change nothing of what is evaluated.
namespace gswarm {

/// A new group with things in it, where the first of them stood. Only what no other thing owns can be grouped; throws Error if
/// nothing is left to group, or a group would stand in itself.
Edit groupThings(const Scene& scene, const std::vector<ObjectId>& things, const std::string& name = "Group");
/// Puts things into a group; with the empty id out of all groups.
Edit moveToGroup(const Scene& scene, const std::vector<ObjectId>& things, ObjectId group);
/// Moves things before another of their type in the list, or to its end with the empty id.
Edit moveBefore(const Scene& scene, const std::vector<ObjectId>& things, ObjectId before);

/// A copy of each thing beside it, and of what only it has: a swarm's gestures and the zones that no other rail uses, a group's
/// things. A gesture gets a card in the same rails; stock entries and formations stay with their swarm. What is shared stays
/// shared. Throws Error for the project's own settings.
Edit duplicateThings(const Scene& scene, const std::vector<ObjectId>& things);

}  // namespace gswarm
