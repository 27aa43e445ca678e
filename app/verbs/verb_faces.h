// The verbs of the verb row: what an artist sees of each.
#pragma once

#include <QString>
#include <vector>

#include "core/verbs/verb.h"

namespace tack {

struct VerbFace {
  VerbId id;
  QString name, about, icon;  ///< `about`: one line for the tooltip
  Qt::Key key;
  bool opens_group = true;  ///< a hairline stands before it
  bool shows_kept = false;  ///< kept tacks are marked on the stage
};

/// In the order of the row; Pick is the first.
const std::vector<VerbFace>& verb_faces();
/// The face of a verb; null for one that only menus and panels have.
const VerbFace* face_of(VerbId id);
/// A new verb of a kind, with nothing filled in.
Verb blank_verb(VerbId id);

}  // namespace tack
