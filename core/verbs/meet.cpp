#include "core/verbs/meet.h"

#include <fmt/format.h>

#include "core/verbs/meet_motion.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"
#include "core/verbs/tie_steps.h"
#include "core/verbs/tied.h"

namespace tack {
namespace {

// Whether bringing two such places together means that what they look along comes together too.
bool looks_out(const Scene& scene, const TackAddress& a) {
  switch (a.kind) {
    case TackKind::Face:
    case TackKind::FaceCentre:
    case TackKind::RoundCentre:
    case TackKind::Axis: return true;
    case TackKind::Kept: {
      const KeptTack* kept = find_kept(scene, a.part, a.name);
      return kept && kept->direction;
    }
    case TackKind::BoxPoint:
    case TackKind::WorldBoxPoint:
    case TackKind::TreeBoxPoint: return kind_words(a) == "box face centre";
    default: return false;
  }
}

constexpr Choice kFacingChoices[] = {
    {"as it stands", "as-is"}, {"facing it", "facing"}, {"facing the same way", "same"}};
constexpr std::size_t kTurnedAbout = 3;  // the entry behind them
// "As it stands" is the first of the choices, and not the same as nothing said.
Json write_facing(const Meet& m, const Scene&) {
  return m.facing ? Json(std::string(kFacingChoices[static_cast<std::size_t>(*m.facing)].key)) : Json(nullptr);
}
constexpr Choice kSharing[] = {{"the first exactly", ""}, {"sharing the error", ""}};
constexpr Choice kSized[] = {{"at its size", ""}, {"sized evenly to fit", ""}};
constexpr Choice kRolled[] = {{"the smallest turn", ""}, {"roll on roll", ""}};
constexpr Choice kTied[] = {{"not remembered", ""}, {"remembered as a tie", ""}};

Slot place_slot(Meet& meet, std::size_t i, std::optional<TackAddress> MeetPair::*side,
                std::optional<TackAddress> Meet::*first) {
  if (i == 0) return &(meet.*first);
  return i <= meet.more.size() ? Slot(&(meet.more[i - 1].*side)) : Slot();
}
Slot from_slot(Meet& meet, std::size_t i) { return place_slot(meet, i, &MeetPair::from, &Meet::from); }
Slot to_slot(Meet& meet, std::size_t i) { return place_slot(meet, i, &MeetPair::to, &Meet::to); }
std::size_t pair_count(const Meet& meet) { return 1 + meet.more.size(); }
void make_pairs(Meet& meet, std::size_t count) { meet.more.resize(std::max<std::size_t>(1, count) - 1); }

std::vector<Option> pair_options(const Meet&, const Scene&, std::size_t i) {
  if (i == 0) return {};
  return {{"another place (click it)", Click::Place}, {"without this pair"}};
}
void without_pair(Meet& meet, std::size_t i, std::size_t option, const ChoiceContext&) {
  if (option == 1 && i <= meet.more.size()) meet.more.erase(meet.more.begin() + static_cast<std::ptrdiff_t>(i) - 1);
}

std::vector<Option> facing_options(const Meet& meet, const Scene&, std::size_t) {
  std::vector<Option> options;
  for (const Choice& choice : kFacingChoices) options.push_back({std::string(choice.words)});
  if (meet.more.empty()) options.push_back({"turned about a place that stays (click it)", Click::Place});
  return options;
}
// A click after the last entry names the place that stays.
void hold_still(Meet& meet, const TackAddress& place) {
  meet.hold = place;
  meet.tie = meet.matched = false;
  meet.facing.reset();
  if (!meet.sized) meet.gap = {};
  meet.along = kAllAxes;
  meet.chain = 0;
}

std::string_view one_pair(const Meet& meet) {
  return meet.hold ? "the place that stays leaves no choice" : meet.more.empty() ? "" : "it goes with one pair only";
}
std::string_view roll_barred(const Meet& meet) { return meet.more.empty() ? "" : "it goes with one pair only"; }
std::string_view gap_barred(const Meet& meet) {
  return meet.hold && !meet.sized ? "about a place that stays, how far it is apart is left to its size" : "";
}
std::string_view without_hold(const Meet& meet) { return meet.hold ? "the place that stays leaves no choice" : ""; }
std::string_view facing_barred(const Meet& meet) {
  if (meet.hold) return "the place that stays leaves no choice";
  if (meet.more.size() > 1 || meet.shared) return "several pairs say how it is turned";
  return "";
}
std::string_view several_pairs(const Meet& meet) { return meet.more.empty() ? "it goes with several pairs" : ""; }
std::string_view may_be_sized(const Meet& meet) {
  return meet.more.empty() && !meet.hold ? "it goes with several pairs, or with a place that stays" : "";
}
std::string_view axes_barred(const Meet& meet) {
  return meet.along == kAllAxes ? "the axes are those that it is limited \"along\"" : "";
}
std::string_view hold_barred(const Meet& meet) { return meet.more.empty() ? "" : "a place stays with one pair only"; }
std::string_view chain_barred(const Meet& meet) {
  return !meet.more.empty() || meet.hold || meet.along != kAllAxes ? "a chain is of whole meetings by one pair" : "";
}

std::string_view tied_barred(const Meet& meet) {
  return meet.chain > 0 ? "a chain is of copies, to which nothing is tied"
         : meet.hold    ? "what is tied cannot turn about a place that stays"
         : meet.sized   ? "what is tied keeps its size"
                        : "";
}

Json what_to_json(const Meet& meet, const Scene& scene) { return parts_to_json(moves(meet, scene), scene); }
Json tie_to_json(const Meet& meet, const Scene&) {
  return !meet.tie ? Json(nullptr) : meet.tie_name.empty() ? Json(true) : Json(meet.tie_name);
}
Result<void> tie_from_json(Meet& meet, const Json& json, const Scene&) {
  if (!json.is_boolean() && !json.is_string())
    return fail("This should be true, false, or the name of the tie.", "tie");
  meet.tie = json.is_string() || json.get<bool>();
  if (json.is_string()) meet.tie_name = json.get<std::string>();
  return {};
}

constexpr BlankId kFrom{1, 0}, kTo{2, 0};

Result<void> check(const Meet& meet) {
  for (const MeetPair& pair : pairs_of(meet)) {
    if (!pair.from) return fail("From is missing.", {}, "Click a place on the part to move.");
    if (!pair.to) return fail("To is missing.", {}, "Click the place it goes to.");
  }
  if (meet.tied && !tied_barred(meet).empty())
    return fail(fmt::format("What is tied cannot come along: {}.", tied_barred(meet)), "with-tied");
  if (meet.hold && meet.tie)
    return fail("A meeting about a place that stays leaves its places apart: it is not remembered.", "tie",
                "Meet without holding a place, or do not remember it.");
  if (meet.matched && meet.facing == Facing::AsIs)
    return fail("Roll on roll goes with facing: as it stands, nothing turns.", "from-roll",
                "Let it face To, or leave \"from-roll\" out.");
  if (!meet.tie_name.empty())
    if (auto ok = check_name(meet.tie_name, "A tie"); !ok) return ok;
  if (meet.chain < 0 || meet.chain > kMostInChain)
    return fail(fmt::format("A chain has 0 to {} more.", kMostInChain), "chain");
  return {};
}

Result<void> check_in(const Meet& meet, const Scene& scene) {
  for (std::size_t i = 0; i <= meet.more.size(); ++i) {
    const auto& from = i == 0 ? meet.from : meet.more[i - 1].from;
    if (meet.what.empty() || !from || !is_on_part(*from) || moves_with(scene, meet.what, from->part)) continue;
    return fail(fmt::format("From is on \"{}\", which is not among what is to move.", path_of(scene, from->part)),
                fmt::format("pairs, {}, from", i + 1));
  }
  if (meet.matched && !meet.facing && meet.from && meet.to &&
      default_facing(scene, *meet.from, *meet.to) == Facing::AsIs)
    return fail("Roll on roll goes with facing, and between such places a part comes as it stands.", "from-roll",
                "Say \"facing\": \"facing\" or \"same\", or leave \"from-roll\" out.");
  if (meet.tie && !meet.tie_name.empty() && scene.tie(meet.tie_name))
    return fail(fmt::format("There is a tie \"{}\" already.", meet.tie_name), "tie");
  return {};
}

bool is_ready(const Meet& meet) {
  return meet.from && meet.to &&
         std::all_of(meet.more.begin(), meet.more.end(), [](const MeetPair& p) { return p.from && p.to; });
}

BlankId waits_for(const Meet& meet) {
  if (!meet.from) return kFrom;
  if (!meet.to) return kTo;
  for (std::size_t i = 0; i < meet.more.size(); ++i) {
    const auto number = static_cast<std::uint8_t>(i + 1);
    if (!meet.more[i].from) return {kFrom.row, number};
    if (!meet.more[i].to) return {kTo.row, number};
  }
  return {};
}

Meet made_whole(Meet meet, const Scene& scene) {
  const auto upright = [&](const std::optional<TackAddress>& a) {
    const KeptTack* kept = a && a->kind == TackKind::Kept ? find_kept(scene, a->part, a->name) : nullptr;
    return kept && kept->direction && kept->roll;
  };
  if (!meet.facing && !meet.hold && meet.more.empty() && upright(meet.from) && upright(meet.to)) meet.matched = true;
  meet.what = moves(meet, scene);
  return meet;
}

Meet next_after(const Meet& meet) { return {.facing = meet.facing, .roll = meet.roll, .tie = meet.tie}; }

std::vector<PartId> all_moving(const Meet& meet, const Scene& scene) {
  std::vector<PartId> alone = moves(meet, scene);
  if (!meet.tied) return alone;
  return tied_body(scene, alone).value_or(alone);
}

// What apply() does but for remembering and the chain.
Result<Scene> brought(const Meet& meet, const Scene& scene) {
  const auto motion = motion_of(meet, scene);
  if (!motion) return tl::unexpected(motion.error());
  const auto parts = meet.tied ? tied_body(scene, moves(meet, scene)) : movable(scene, moves(meet, scene));
  if (!parts) return tl::unexpected(parts.error());
  for (const MeetPair& pair : pairs_of(meet)) {
    if (auto ok = check_to_stays(scene, *parts, *pair.to); !ok) return tl::unexpected(ok.error());
    if (meet.more.empty()) continue;
    if (auto ok = check_from_moves(scene, *parts, *pair.from); !ok) return tl::unexpected(ok.error());
  }
  auto result = moved_alike(meet.leave_copy ? with_copies_left(scene, *parts) : scene, *parts, motion->turn,
                            motion->factor, motion->from, motion->to);
  if (!result || meet.hold || (meet.shared && !meet.more.empty()) || !is_on_part(*meet.from)) return result;
  // From itself is what has to arrive.
  const auto missing = [&](const Scene& now) -> std::optional<Vec3> {
    const auto landed = find_tack(now, *meet.from);
    return landed ? std::optional(motion->to - landed->point) : std::nullopt;
  };
  const PartId leading = carrier_of(scene, *parts, meet.from->part);
  return settle(*result, *parts, leading, missing).map([&] { return *std::move(result); });
}

void remember(const Meet& meet, Scene& scene) {
  if (!meet.tie) return;
  std::vector<Tie> ties = scene.ties();
  ties.push_back(tie_of(meet, scene));
  scene.set_ties(std::move(ties));
}

// The feature of To on another part: where the next of a chain goes.
TackAddress next_to(const Meet& meet, PartId part) {
  TackAddress to = *meet.to;
  to.part = part;
  return to;
}

std::string left_of_meet(const Meet& meet, const Scene&, const Scene& after, const LengthUnit& unit) {
  // Of a chain the first is meant; of a copy that is left, the part itself.
  return shortfall_sentence(meet, after, unit);
}

std::string remark_of(const Meet& meet, const Scene& before, const Scene&) {
  const auto motion = motion_of(meet, before);
  return motion ? motion->undetermined : std::string();
}

void sentence(Phrase& s, const Meet& meet) {
  const std::vector<PartId> what = moves(meet, s.scene());
  const Facing facing =
      meet.facing.value_or(meet.from && meet.to ? default_facing(s.scene(), *meet.from, *meet.to) : Facing::AsIs);
  const std::size_t pairs = pair_count(meet);
  s.about(what);
  s.say("Brought ", "Bring ");
  if (meet.leave_copy) s.say("a copy of ");
  s.blank("what", 0, what.empty() ? "a part" : names_of(s.scene(), what), what.empty());
  for (std::size_t i = 0; i < std::min(pairs, kMostPairs); ++i) {
    s.say(i == 0 ? " from " : ", and ");
    s.blank("from", i).say(pairs == 1 && !meet.hold && s.fell_short() ? " towards " : " to ").blank("to", i);
  }
  if (pairs > kMostPairs) s.say(fmt::format(", and {} more pairs", pairs - kMostPairs));
  s.say(", ");
  const auto facing_words = std::string(kFacingChoices[static_cast<std::size_t>(facing)].words);
  if (meet.hold) {
    s.say("turned about ").blank("hold").say(", which stays, ").blank("sized");
    if (meet.sized) s.say(", ").blank("gap").say(" apart");
    s.say(", rolled ").blank("roll");
  } else {
    if (pairs > 1) {
      s.blank("share").say(", ").blank("sized");
      // With two pairs the roll is left over, and facing says how to use it.
      if (pairs == 2 && !meet.shared) s.say(", ").blank("facing", 0, facing_words);
    } else {
      s.blank("facing", 0, facing_words);
    }
    if (pairs == 1 || meet.gap.value != 0) {
      const bool along = meet.along != kAllAxes;
      s.say(", ").blank("gap").say(pairs == 1 && !along && s.fell_short() ? " apart as far as it goes" : " apart");
    }
    if (pairs == 1 && (facing != Facing::AsIs || meet.roll.value != 0)) {
      s.say(", rolled ").blank("roll");
      if (facing != Facing::AsIs) s.say(" from ").blank("from-roll");
    }
    if (meet.along != kAllAxes) s.say(", along ").blank("along").say(" of ").blank("axes").say(" axes only");
  }
  if (meet.tie) s.say(", ", ", to be ").blank("tie");
  if (meet.chain > 0) s.say(", with ").blank("chain").say(" more in a chain");
  if (meet.tied) s.say(", ").blank("with-tied");
  s.say(".");
  if (!meet.tied && tied_barred(meet).empty() && is_tied(s.scene(), what))
    s.offer("with-tied", 0, "with what is tied to it");
  if (!meet.tie && !meet.hold) s.offer("tie", 0, "remember it as a tie");
  if (meet.chain == 0 && can_chain(meet, s.scene())) s.offer("chain", 0, "go on in a chain");
  if (s.past() && !meet.hold && pairs < kMostPairs) s.offer("from", pairs, "add another pair");
}

}  // namespace

Facing default_facing(const Scene& scene, const TackAddress& from, const TackAddress& to) {
  return looks_out(scene, from) && looks_out(scene, to) ? Facing::Facing : Facing::AsIs;
}

std::vector<PartId> moves(const Meet& meet, const Scene& scene) {
  if (!meet.from || !is_on_part(*meet.from) || moves_with(scene, meet.what, meet.from->part)) return meet.what;
  return {meet.from->part};
}

std::vector<MeetPair> pairs_of(const Meet& meet) {
  std::vector<MeetPair> pairs{{meet.from, meet.to}};
  pairs.insert(pairs.end(), meet.more.begin(), meet.more.end());
  return pairs;
}

std::optional<TackAddress> base_of(const Meet& meet, const Scene& scene) {
  const std::vector<PartId> what = moves(meet, scene);
  if (what.empty() || !scene.contains(what.front())) return std::nullopt;
  const bool mesh = scene.part(what.front()).mesh != nullptr;
  return TackAddress{mesh ? TackKind::BoxPoint : TackKind::TreeBoxPoint, what.front(), 0, {0.5, 0.5, 0}};
}

Meet stood_on_base(Meet meet, const Scene& scene) {
  const auto base = base_of(meet, scene);
  const auto to = base && meet.to ? find_tack(scene, *meet.to) : Result<Tack>(fail({}));
  if (!to) return meet;
  meet.from = base;
  meet.facing = to->direction ? Facing::Facing : Facing::AsIs;
  return meet;
}

Meet next_in_row(const Meet& done) {
  Meet next = done;
  next.to.reset();
  next.tie_name.clear();
  return next;
}

bool can_chain(const Meet& meet, const Scene& scene) {
  if (!meet.from || !meet.to || !is_on_part(*meet.to) || !chain_barred(meet).empty()) return false;
  const std::vector<PartId> what = moves(meet, scene);
  const Part *moving = what.size() == 1 ? scene.find(what.front()) : nullptr, *met = scene.find(meet.to->part);
  // The same kept tack, or the same mesh: of other parts a vertex of the same number is no place of the same meaning.
  if (!moving || !met || (meet.to->kind != TackKind::Kept && !(moving->mesh && moving->mesh == met->mesh)))
    return false;
  return meet.from->part == what.front() && find_tack(scene, next_to(meet, what.front())).has_value() &&
         next_to(meet, what.front()) != TackAddress(*meet.from);
}

Result<Scene> apply(const Meet& meet, const Scene& scene) {
  auto result = brought(meet, scene);
  if (!result) return result;
  remember(meet, *result);
  if (meet.chain == 0) return result;
  if (!can_chain(meet, scene))
    return fail("Cannot continue as a chain: the moving part has no place that corresponds to To.", {},
                "A chain needs the same kept tack, or an instance of one mesh, on both sides.");
  PartId last = moves(meet, scene).front();
  for (int i = 0; i < meet.chain; ++i) {
    PartId copy = kNoPart;
    const Scene copied = with_instance(*result, last, copy);
    Meet next = meet;
    next.what = {copy};
    next.from->part = copy;
    next.to = next_to(meet, last);
    next.leave_copy = false;
    next.tie_name.clear();
    result = brought(next, copied);
    if (!result) return result;
    remember(next, *result);
    last = copy;
  }
  return result;
}

// clang-format off
const Table<Meet>& table_of(const Meet*) {
  static const Table<Meet> table{.key = "meet", .does = "Brings From to To.", .on_patches = true, .check = check, .check_in = check_in,
      .ready = is_ready, .waits = waits_for, .whole = made_whole, .next = next_after, .parts = all_moving,
      .left = left_of_meet, .remark = remark_of, .leading = "gap", .still = "hold",
      .hints = {.done = "Done. Type a gap, click a blank to correct it, add another pair, or click the next place."},
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Meet::what>, .ask = "Click the part to bring instead.",
     .write = what_to_json, .doc = "the parts that move; left out: From's part"},
    {.key = "from", .name = "From", .at = from_slot,
     .ask = "Click a place on the part to move. Shift: stand it on a place by its own base.",
     .waiting = "a place on it", .role = Role::From, .needed = true, .in = "pairs", .count = pair_count,
     .resize = make_pairs, .options = pair_options, .choose = without_pair, .doc = "a place on the part that moves"},
    {.key = "to", .name = "To", .at = to_slot,
     .ask = "Click where it goes. X, Y, Z: along that axis only. Shift: by its own base. Ctrl: leave a copy.",
     .waiting = "a place to go", .role = Role::To, .needed = true, .in = "pairs", .count = pair_count,
     .resize = make_pairs, .options = pair_options, .choose = without_pair, .doc = "where it goes"},
    {.key = "facing", .name = "Facing", .at = slot<&Meet::facing>, .choices = kFacingChoices,
     .ask = "Click the place that stays: the part turns about it until From looks towards To.", .barred = facing_barred,
     .given = [](Meet& m, std::size_t) { m.hold.reset(); }, .options = facing_options,
     .choose = [](Meet& m, std::size_t, std::size_t option, const ChoiceContext&) {
           if (option < kTurnedAbout) m.facing = static_cast<Facing>(option);
           if (m.facing == Facing::AsIs) m.matched = false;
         },
     .write = write_facing,
     .doc = "how From's direction turns towards To's. Left out: `facing` between faces, centres of faces and of "
            "round edges, axes, and kept tacks with a direction; else `as-is`"},
    {.key = "gap", .name = "Gap", .at = slot<&Meet::gap>, .barred = gap_barred,
     .write = [](const Meet& m, const Scene&) { return amount_to_json(m.gap); },
     .doc = "along To's direction; of several pairs it counts for the first; with `hold` it goes with `sized`"},
    {.key = "roll", .name = "Roll", .at = slot<&Meet::roll>, .kind = EntryKind::Angle, .barred = roll_barred,
     .write = [](const Meet& m, const Scene&) { return amount_to_json(m.roll); },
     .doc = "a turn about To's direction, on top of the smallest one; with `hold`, about the line from the place that "
            "stays to To"},
    {.key = "copy", .name = "A copy stays", .at = slot<&Meet::leave_copy>,
     .doc = "leaves an instance where the part was"},
    {.key = "from-roll", .name = "Roll from", .at = slot<&Meet::matched>, .choices = kRolled, .barred = one_pair,
     .given = [](Meet& m, std::size_t) {
           // As it stands nothing turns: who asks for roll on roll asks for facing.
           if (m.matched && m.facing.value_or(Facing::AsIs) == Facing::AsIs) m.facing = Facing::Facing;
         },
     .doc = "the roll counts from where the two rolls coincide"},
    {.key = "share", .name = "Exact or shared", .at = slot<&Meet::shared>, .choices = kSharing, .barred = several_pairs,
     .doc = "several pairs share the error by least squares; else the first is exact, the second gives the "
            "direction, the third the roll"},
    {.key = "sized", .name = "Size", .at = slot<&Meet::sized>, .choices = kSized, .barred = may_be_sized,
     .doc = "the size may change, evenly"},
    {.key = "along", .name = "Limited to", .at = slot<&Meet::along>, .barred = one_pair,
     .doc = "it moves along these of the axes only"},
    {.key = "axes", .name = "Axes", .at = slot<&Meet::axes>, .ask = "Click the part whose own axes to use.",
     .always = true, .barred = axes_barred, .doc = "which axes `along` means"},
    {.key = "hold", .name = "Holding still", .at = slot<&Meet::hold>,
     .ask = "Click the place that stays: the part turns about it until From looks towards To.", .barred = hold_barred,
     .given = [](Meet& m, std::size_t) { hold_still(m, *m.hold); },
     .doc = "a place that stays: the part turns about it until From looks towards To"},
    {.key = "tie", .name = "Remembered", .at = slot<&Meet::tie>, .choices = kTied, .barred = without_hold,
     .write = tie_to_json, .read = tie_from_json, .value = "`true`, or a name",
     .doc = "remembers the meeting as a tie"},
    {.key = "chain", .name = "More in a chain", .at = slot<&Meet::chain>, .kind = EntryKind::Factor,
     .barred = chain_barred, .doc = "adds so many instances, each with its own From on To of the one before"},
    {.key = "with-tied", .name = "What is tied to it", .at = slot<&Meet::tied>, .choices = kWithTied,
     .barred = tied_barred, .doc = "what ties that hold keep to it comes along, as one body"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
