// Where a glTF names its things by number: glTF 2.0 itself, and the extensions whose schema is known here.
#pragma once

#include <functional>
#include <nlohmann/json.hpp>
#include <set>
#include <string>

#include "core/verbs/json.h"

namespace tack {

/// What a number names. `Pointer` is a JSON pointer (KHR_animation_pointer) with one of the others in it.
enum class Ref {
  Node,
  Mesh,
  Accessor,
  BufferView,
  Buffer,
  Material,
  Texture,
  Image,
  Sampler,
  Skin,
  Camera,
  Light,
  Variant,
  Packet,
  Shape,
  PhysicsMaterial,
  CollisionFilter,
  PhysicsJoint,
  ImageLight,
  Animation,
  Pointer
};

/// Calls f(kind, value) for every number of the document that names something, and for every pointer. Only integers and
/// strings are handed out; whether they name something that is there is the caller's to ask.
using OnReference = std::function<void(Ref, Json&)>;
void each_reference(Json& document, const OnReference& f);
/// The same for one node, or for what is left of one.
void each_reference_of_node(Json& node, const OnReference& f);

/// The list that numbers of this kind count in: "meshes", or for those of extensions "lights" in "KHR_lights_punctual".
struct Counted {
  const char* extension;  ///< null: a list of the document itself
  const char* list;
};
Counted counted_in(Ref kind);
/// How many there are of a kind in the document.
int count_of(const Json& document, Ref kind);

/// The node that a pointer such as /nodes/3/translation begins with; −1 when it is no node's.
int node_of_pointer(const std::string& pointer);
/// The pointer with the number of what it begins with put through `change`.
std::string pointer_with(const std::string& pointer, const std::function<int(Ref, int)>& change);

/// Whether the numbers that an extension may hold are known to each_reference, or it holds none.
bool numbers_are_known(const std::string& extension);
/// The extensions of the document, wherever they stand in it, that may hold numbers which are not known: those that are
/// not known at all and have an integer somewhere.
std::set<std::string> unknown_with_numbers(const Json& document);
std::set<std::string> unknown_with_numbers_in_node(const Json& node);
/// Takes the named extensions out, wherever they stand.
void leave_out(Json& document, const std::set<std::string>& extensions);

}  // namespace tack
