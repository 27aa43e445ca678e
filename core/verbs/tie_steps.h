// What is done to ties: closing one, sharing what a ring of them leaves, suspending, naming, deleting.
#pragma once

#include "core/fit/ties.h"
#include "core/verbs/meet.h"

namespace tack {

/// Brings the places of a tie together again: its meeting once more.
struct CloseTie {
  enum class Moves { Brought, Met };
  std::string tie;
  Moves moves = Moves::Brought;  ///< which of the two sides
  friend bool operator==(const CloseTie&, const CloseTie&) = default;
};
/// Shares what remains where a tie closes a ring among the parts of the ring that may move; see closing_error().
struct ShareError {
  std::string tie;
  friend bool operator==(const ShareError&, const ShareError&) = default;
};
struct EditTie {
  enum class Do { Suspend, Watch, Delete, Rename };
  std::string tie;
  Do what_to_do = Do::Suspend;
  std::string name;  ///< Rename: the new one
  friend bool operator==(const EditTie&, const EditTie&) = default;
};

/// The tie that a finished meeting leaves, under a name that is free.
Tie tie_of(const Meet& meet, const Scene& scene);
/// The meeting that closes a tie; the smallest turn does it where its roll was not on the other's roll. When what was
/// met moves, From and To change places.
Meet meet_of(const Tie& tie, CloseTie::Moves moves = CloseTie::Moves::Brought);
/// The parts that closing moves.
std::vector<PartId> movers(const CloseTie& close, const Scene& scene);

/// The parts that sharing would shift.
std::vector<PartId> shifted_by(const ShareError& share, const Scene& scene);

/// Ends as the meeting did, to the same bound. Fails when the tie is not there or lost, and as Meet does.
Result<Scene> apply(const CloseTie& close, const Scene& scene);
/// Each part is shifted as closing_error() says, to its bound; no turn. Fails as that does.
Result<Scene> apply(const ShareError& share, const Scene& scene);
/// Fails when the tie is not there, or the new name is empty or another tie's.
Result<Scene> apply(const EditTie& edit, const Scene& scene);

const Table<CloseTie>& table_of(const CloseTie*);
const Table<ShareError>& table_of(const ShareError*);
const Table<EditTie>& table_of(const EditTie*);

}  // namespace tack
