// FBX, DAE, 3MF, X3D and what else the Assimp library reads, made glTF.
#pragma once

#include "core/files/delivery.h"

namespace tack {

/// A reader of what the library knows, by the ending or by what is in the file. The library is loaded now, so that
/// nothing has to be opened later; where it is not installed the reader's answer is a sentence that says so.
decltype(Around::other) other_formats(const FilesBeside& beside);

}  // namespace tack
