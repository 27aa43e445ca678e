// The verbs of the verb row: what an artist sees of each.
#pragma once

#include <QString>
#include <vector>

#include "core/verbs/verb.h"

namespace tack {

struct VerbFace {
  Verb blank;                 ///< the verb with nothing filled in
  QString name, about, icon;  ///< `about`: one line for the tooltip
  Qt::Key key;
  bool opens_group = true;  ///< a hairline stands before it
  bool shows_kept = false;  ///< kept tacks are marked on the stage

  VerbId id() const { return tack::id(blank); }
};

/// In the order of the row; Pick is the first.
const std::vector<VerbFace>& verb_faces();
/// The face of a verb; null for one that only menus and panels have.
const VerbFace* face_of(VerbId id);

}  // namespace tack
