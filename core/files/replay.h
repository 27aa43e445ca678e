// Opening the record of a document: its steps are done again on what they began with.
#pragma once

#include <atomic>

#include "core/files/document.h"

namespace tack {

/// Does the steps that `delivery` brought along again, those that are left out among them. Where they lead to what
/// `document`, which is made of the same delivery, has, its `past` is the journal, and its parts get the ids that the
/// steps know; what was taken of meshes is there again too. Else the document stays as it is, and its notes say why.
/// Nothing happens where the delivery has no record (ImportOptions::steps). What the steps make is bounded: so many
/// `vertices` of meshes, or 64 times what the document and its start have. `stop` ends it early (said); `progress` is
/// told the share that is done, on this thread. O(steps × what each of them costs).
void do_again(const Delivery& delivery, Document& document, const std::atomic<bool>* stop = nullptr,
              const std::function<void(double)>& progress = {}, double vertices = 1e8);

}  // namespace tack
