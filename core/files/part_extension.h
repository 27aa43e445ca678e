// TACKPOINT_part: what glTF nodes have no place for. Its schema is in docs/format.md.
#pragma once

#include "core/files/delivery.h"

namespace tack {

/// The extension of a node that is the head of a part; nullptr for other nodes and for those that only have a role.
const Json* part_extension(const Json& node);
/// The extension of any node that has one.
const Json* any_part_extension(const Json& node);
/// "skew", "animated", "undone", "geometry" or "skinned" for the nodes that belong to a head; empty for others.
std::string role_of(const Json& node);

/// Takes placement, typed numbers and flags from the extension; damaged members count as absent.
void read_part_extension(const Json& extension, DeliveredPart& part, std::vector<std::string>& notes);
/// The extension for a part.
Json write_part_extension(const Part& part);

/// The lengths of a linked copy, and what is read of them: what is damaged counts as absent.
Json lengths_json(const std::vector<Lengthening>& lengths);
std::vector<Lengthening> lengths_from(const Json& json);

/// How a part's local matrix is spread over its nodes: `head` gets translation, rotation and scale; `inner`, when there
/// is skew, is a rotation below it (glTF's matrices must not have skew: by singular values, L = T·U·Σ · Vᵀ).
struct HeadNodes {
  Json head = Json::object();
  std::optional<Json> inner;
};
HeadNodes head_nodes(const Affine& local, const Placement& placement);

}  // namespace tack
