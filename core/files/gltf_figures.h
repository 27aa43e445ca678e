// What is done to a glTF of another program before its tree is read: scenes are parted, and meshes that joints bend are
// taken out of the tree, in which their place means nothing.
#pragma once

#include "core/files/gltf_data.h"

namespace tack {

/// The nodes below `roots`, parents before children, and the parent of each (−1 at the top, −2 for nodes that are not
/// below them). Fails in words where a node has two parents or is its own, or where they nest more than 1000 deep.
struct NodeTree {
  std::vector<int> order;
  std::vector<int> parent;
};
Result<NodeTree> tree_below(const Json& json, const std::vector<int>& roots);

/// The numbers in a list of nodes; fails on what is no node.
Result<std::vector<int>> node_list(const Json& json, const Json& owner, const char* key);

/// Nodes that a scene shares with the chosen one are there twice afterwards: those of the chosen scene keep their
/// numbers, and so do the skins and animations that mean them; the others get numbers at the end, skins of their own,
/// and move as they did.
Result<void> part_scenes(Json& json, const std::vector<int>& roots, Json& other_scenes);

/// Meshes that are bent by the same joints, or by joints below those of another.
struct Figure {
  std::vector<int> meshes;  ///< the nodes that have them, in the tree's order
  std::vector<int> tops;    ///< the nodes, all below `below`, with all of their joints in them
  int below = -1;           ///< −1: the tops are roots
};

/// Takes the nodes that have a mesh and a skin out of the tree below `roots`: such a node keeps its number and mesh,
/// and loses its place, which counted for nothing. One with children, or that is a joint itself, leaves a node at the
/// end of the list in its place, which animations of that place move from now on. A skin that cannot be used is
/// dropped, which `notes` says. Returns the figures in the tree's order.
Result<std::vector<Figure>> take_figures_out(Json& json, std::vector<int>& roots, std::vector<std::string>& notes);

/// Which nodes are moved by an animation, are joints, or have extensions whose meaning for other nodes is not known:
/// trees with one of them stay as they are, in their own units and axes. One for each node.
std::vector<bool> nodes_to_leave(const Json& json);

}  // namespace tack
