// Places and parts as they are typed into a blank, instead of being clicked.
#pragma once

#include "core/catch/tack.h"
#include "core/entry/entry.h"

namespace tack {

/// A place: an address (`"Post 4" vertex 17`, `point 1,2,3` in world mm), or three typed lengths with commas between
/// them (`120, 2 ft 6 in, height of "Post 4"`), read with `lengths` along the axes of `frame` (from axes to the world,
/// axes_frame()). Nothing typed for a component, as in `, , 300`, is 0. Says where and why it cannot be read.
tl::expected<TackAddress, EntryError> typed_place(const Scene& scene, std::string_view text,
                                                  const EntryContext& lengths, const Affine& frame);

/// A part by its name, or as much of its path as tells it apart, with or without quotes about it.
tl::expected<PartId, EntryError> typed_part(const Scene& scene, std::string_view text);

}  // namespace tack
