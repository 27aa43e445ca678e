#include "app/panels/fit_panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QMenu>
#include <QPainter>
#include <QVBoxLayout>
#include <map>
#include <numeric>

#include "app/panels/rows.h"
#include "app/theme.h"
#include "core/verbs/tie_history.h"

namespace tack {
namespace {

// A shape for each state, so that colour is never the only sign: a full disc, a ring, a broken bar, two bars, a cross.
QIcon drawn_icon(TieState::Kind kind) {
  constexpr int kSide = 14;
  QPixmap picture(kSide * 2, kSide * 2);
  picture.setDevicePixelRatio(2);
  picture.fill(Qt::transparent);
  QPainter p(&picture);
  p.setRenderHint(QPainter::Antialiasing);
  const QPointF middle(kSide / 2.0, kSide / 2.0);
  const auto pen = [&](const QColor& hue) { p.setPen(QPen(hue, 1.8, Qt::SolidLine, Qt::RoundCap)); };
  switch (kind) {
    case TieState::Kind::Exact:
      p.setPen(Qt::NoPen);
      p.setBrush(theme().good);
      p.drawEllipse(middle, 4.5, 4.5);
      break;
    case TieState::Kind::Touching:
      pen(theme().good);
      p.drawEllipse(middle, 4, 4);
      break;
    case TieState::Kind::Apart:
      pen(theme().drifting);
      p.drawLine(QPointF(1.5, 7), QPointF(5, 7));
      p.drawLine(QPointF(9, 7), QPointF(12.5, 7));
      p.drawLine(QPointF(5, 3.5), QPointF(5, 10.5));
      p.drawLine(QPointF(9, 3.5), QPointF(9, 10.5));
      break;
    case TieState::Kind::Suspended:
      pen(theme().soft);
      p.drawLine(QPointF(5, 3.5), QPointF(5, 10.5));
      p.drawLine(QPointF(9, 3.5), QPointF(9, 10.5));
      break;
    case TieState::Kind::Waiting:
      pen(theme().soft);
      for (const double x : {3.5, 7.0, 10.5}) p.drawPoint(QPointF(x, 7));
      break;
    case TieState::Kind::Lost:
      pen(theme().wrong);
      p.drawLine(QPointF(4, 4), QPointF(10, 10));
      p.drawLine(QPointF(10, 4), QPointF(4, 10));
      break;
  }
  return QIcon(picture);
}

// The same, drawn once for each theme.
const QIcon& icon_of(TieState::Kind kind) {
  static std::map<std::pair<TieState::Kind, bool>, QIcon> icons;
  const auto [at, fresh] = icons.try_emplace({kind, theme().night});
  if (fresh) at->second = drawn_icon(kind);
  return at->second;
}

QString text_of(const std::string& text) { return QString::fromStdString(text); }

// The order of the rows: lost ones, then those that are apart by how far, then the others as they were made.
std::vector<std::size_t> worst_first(const std::vector<TieState>& states) {
  std::vector<std::size_t> order(states.size());
  std::iota(order.begin(), order.end(), 0);
  const auto badness = [&](std::size_t i) {
    const TieState& s = states[i];
    return s.kind == TieState::Kind::Lost ? 1e300 : s.kind == TieState::Kind::Apart ? 1 + s.gap : 0;
  };
  std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return badness(a) > badness(b); });
  return order;
}

}  // namespace

FitPanel::FitPanel(Store& store, Workbench& bench, Stage& stage, QWidget* parent)
    : QWidget(parent),
      store_(store),
      bench_(bench),
      stage_(stage),
      count_(new QLabel(this)),
      detail_(new QLabel(this)),
      list_(new QTreeWidget(this)),
      actions_(new QWidget(this)) {
  setObjectName("fit");
  count_->setObjectName("fit count");
  count_->setContentsMargins(14, 8, 10, 4);
  count_->setWordWrap(true);
  list_->setObjectName("ties");
  list_->setAccessibleName("Ties");
  list_->setToolTip("Click: the loupe looks at it. Double-click: the stage too");
  list_->setRootIsDecorated(false);
  list_->setUniformRowHeights(true);
  list_->setItemDelegate(new TieRows(list_));
  list_->setMouseTracking(true);
  list_->setFrameShape(QFrame::NoFrame);
  list_->setFont(ui_font(0.95));
  list_->setFocusPolicy(Qt::TabFocus);
  list_->setContextMenuPolicy(Qt::CustomContextMenu);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setColumnCount(3);
  list_->setHeaderHidden(true);
  list_->setMinimumHeight(96);
  list_->header()->setStretchLastSection(false);
  list_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
  // What was measured stands below the name: the columns only hold it.
  for (const int column : {1, 2}) list_->header()->hideSection(column);
  detail_->setObjectName("fit detail");
  detail_->setWordWrap(true);
  detail_->setContentsMargins(14, 4, 10, 2);
  detail_->setFont(ui_font(0.95));
  auto* row = new QHBoxLayout(actions_);
  row->setContentsMargins(10, 2, 8, 8);
  row->setSpacing(4);
  const auto button = [&](const QString& name, const QString& tip) {
    auto* b = new QToolButton(actions_);
    b->setText(name);
    b->setObjectName(name);
    b->setToolTip(tip);
    b->setAccessibleName(name);
    b->setFont(ui_font(0.95, QFont::Medium));
    b->setFocusPolicy(Qt::TabFocus);
    row->addWidget(b);
    return b;
  };
  close_ = button("Close it", "Bring its places together again");
  share_ = button("Spread it", "Spread what remains among all parts of its ring that may move");
  more_ = button("More", "Suspend, rename, delete it, and more");
  row->addStretch(1);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addWidget(count_);
  layout->addWidget(list_, 1);
  layout->addWidget(detail_);
  layout->addWidget(actions_);
  connect(close_, &QToolButton::clicked, this, [this] {
    store_.perform(CloseTie{chosen(), CloseTie::Moves::Brought});
  });
  connect(share_, &QToolButton::clicked, this, [this] { store_.perform(ShareError{chosen()}); });
  connect(more_, &QToolButton::clicked, this, [this] { show_menu(more_->mapToGlobal(QPoint(0, more_->height()))); });
  connect(list_, &QTreeWidget::currentItemChanged, this, [this] {
    if (filling_) return;
    bench_.look_at_tie(chosen());
    refresh_detail();
  });
  connect(list_, &QTreeWidget::itemActivated, this, [this] { look_at(chosen()); });
  connect(list_, &QWidget::customContextMenuRequested, this, [this](QPoint at) {
    if (!list_->itemAt(at)) return;
    list_->setCurrentItem(list_->itemAt(at));
    show_menu(list_->viewport()->mapToGlobal(at));
  });
  connect(&bench_, &Workbench::ties_changed, this, &FitPanel::refresh);
  connect(&store_, &Store::document_changed, this, &FitPanel::refresh);  // another document
  connect(&store_, &Store::look_changed, this, &FitPanel::refresh);
  refresh();
}

std::string FitPanel::chosen() const {
  const QTreeWidgetItem* item = list_->currentItem();
  return item ? item->data(0, Qt::UserRole).toString().toStdString() : std::string();
}

// Since which step it is apart; looked up once for each state of the record.
QString FitPanel::since(const std::string& name, const TieState& state) {
  if (state.kind != TieState::Kind::Apart || bench_.marks().shown) return {};
  const std::pair now{store_.journal().position(), store_.preferences().touch};
  if (since_at_ != now) since_.clear(), since_at_ = now;
  const auto [at, fresh] = since_.try_emplace(name);
  if (fresh) at->second = apart_since(store_.journal().record(), name, store_.preferences().touch);
  return at->second ? QString(" · since step %1").arg(*at->second + 1) : QString();
}

void FitPanel::look_at(const std::string& name) {
  const auto& ties = store_.scene().ties();
  const auto& states = bench_.tie_states();
  for (std::size_t i = 0; i < ties.size() && i < states.size(); ++i) {
    const TieState& state = states[i];
    if (ties[i].name != name || state.kind == TieState::Kind::Lost || state.kind == TieState::Kind::Waiting) continue;
    stage_.look_at(state.from, state.target, surroundings_of(store_.scene(), ties[i].pairs[state.pair]));
  }
}

void FitPanel::look_at_next() {
  const std::vector<TieState>& states = bench_.tie_states();
  std::vector<std::string> apart;
  for (const std::size_t i : worst_first(states))
    if (states[i].kind == TieState::Kind::Apart) apart.push_back(store_.scene().ties()[i].name);
  if (apart.empty()) return store_.say("No tie is apart.");
  const auto now = std::find(apart.begin(), apart.end(), chosen());
  const std::string& next = now == apart.end() || now + 1 == apart.end() ? apart.front() : *(now + 1);
  // The panel comes to the front where it stands behind another.
  if (QWidget* dock = parentWidget()) dock->show(), dock->raise();
  list_->setCurrentItem(list_->findItems(text_of(next), Qt::MatchExactly).value(0));
  look_at(next);
}

void FitPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void FitPanel::refresh() {
  if (!isVisible()) return;  // behind another panel it costs nothing
  const std::vector<Tie>& ties = store_.scene().ties();
  const std::vector<TieState>& states = bench_.tie_states();
  const std::string was = bench_.looked_at_tie();
  // Rows are made anew only when there are others; a drag changes what stands in them.
  filling_ = true;
  while (list_->topLevelItemCount() > static_cast<int>(ties.size()))
    delete list_->takeTopLevelItem(list_->topLevelItemCount() - 1);
  std::size_t held = 0, watched = 0;
  int row = 0;
  for (const std::size_t i : worst_first(states)) {
    if (i >= ties.size()) continue;
    auto* item = list_->topLevelItem(row++);
    if (!item) item = new QTreeWidgetItem(list_);
    const TieState& state = states[i];
    held += holds(state);
    watched += state.kind != TieState::Kind::Suspended && state.kind != TieState::Kind::Waiting;
    const QString words = text_of(tie_words(ties[i], state, store_.unit(), store_.unit().touch));
    item->setText(0, text_of(ties[i].name));
    item->setText(
        1, text_of(watched_words(ties[i], state, store_.unit(), store_.unit().touch)) + since(ties[i].name, state));
    item->setText(2, text_of(free_words(ties[i], state, store_.unit().touch)));
    item->setData(0, Qt::AccessibleTextRole, text_of(ties[i].name) + ", " + words);
    item->setIcon(0, icon_of(state.kind));
    item->setData(0, Qt::UserRole, text_of(ties[i].name));
    item->setForeground(1, state.kind == TieState::Kind::Apart  ? theme().drifting
                           : state.kind == TieState::Kind::Lost ? theme().wrong
                           : holds(state)                       ? theme().good
                                                                : theme().soft);
    item->setToolTip(0, text_of(ties[i].name) + ": " + words);
    item->setToolTip(1, item->toolTip(0));
    if (ties[i].name == was) list_->setCurrentItem(item);
  }
  if (was.empty() && list_->currentItem()) list_->setCurrentItem(nullptr);
  filling_ = false;
  count_->setText(ties.empty() ? "Ties stand here: meetings that are remembered and watched. Meet offers it at "
                                 "the end of its sentence."
                               : QString("%1 of %2 ties hold").arg(held).arg(watched));
  count_->setFont(ties.empty() ? ui_font(0.95) : ui_font(0.95, QFont::DemiBold));
  count_->setStyleSheet("color: " + (ties.empty()     ? theme().soft
                                     : held < watched ? theme().drifting
                                                      : theme().good)
                                        .name());
  list_->setVisible(!ties.empty());
  // What closing and sharing would do is told of the document, which a drag has not changed yet.
  if (!bench_.marks().shown) refresh_detail();
}

void FitPanel::refresh_detail() {
  const Scene& scene = store_.scene();
  const Tie* tie = scene.tie(chosen());
  detail_->setVisible(tie != nullptr);
  actions_->setVisible(tie != nullptr);
  if (!tie) return;
  const std::vector<TieState>& states = bench_.tie_states();
  const auto number = static_cast<std::size_t>(tie - scene.ties().data());
  const TieState state = number < states.size() ? states[number] : TieState{};
  if (state.kind == TieState::Kind::Waiting) {
    detail_->setText(text_of(state_words(state, store_.unit(), store_.unit().touch)));
    actions_->hide();
    return;
  }
  const bool lost = state.kind == TieState::Kind::Lost;
  QString text;
  if (lost) {
    text = text_of(sentence(state.problem));
  } else {
    text = QString("Gap %1").arg(text_of(show_length(state.gap, store_.unit(), 4).text));
    if (state.angle && *state.angle >= 5e-5)
      text += QString(", angle %1").arg(text_of(show_angle(*state.angle, 4).text));
    if (tie->pairs.size() > 1) text += QString(", at pair %1 of %2").arg(state.pair + 1).arg(tie->pairs.size());
    text += ".";
    // A limited tie holds whatever lies along the other axes: that is said, so that it fools nobody.
    if (const std::string beside = unwatched_words(state, store_.unit(), store_.unit().touch); !beside.empty())
      text += " " + QString("Not watched: %1.").arg(text_of(beside));
  }
  bool shares = false;
  if (!lost && !holds(state)) {
    text += " " + text_of(plain_text(
                      sentence(CloseTie{tie->name, CloseTie::Moves::Brought}, scene, Tense::Present, store_.unit())));
    // What remains where a ring closes, and what each part's share of it would be.
    const auto closing = TieRings(scene, states).closing_error(tie->name);
    shares = closing && !tie->suspended && length(closing->error) > store_.unit().touch;
    if (shares) {
      text += QString("\nIt closes a ring of %1 ties: %2 remains. Spread evenly, no gap is over %3: ")
                  .arg(closing->ties.size())
                  .arg(text_of(show_length(length(closing->error), store_.unit(), 4).text),
                       text_of(show_length(closing->worst, store_.unit(), 4).text));
      QStringList parts;
      for (const RingShift& p : closing->parts) {
        const Part* part = scene.find(p.part);
        if (!part) continue;
        parts << (p.stays
                      ? QString("%1 stays").arg(text_of(part->name))
                      : QString("%1 by %2")
                            .arg(text_of(part->name), text_of(show_length(length(p.shift), store_.unit(), 4).text)));
      }
      constexpr int kNamed = 6;
      const auto more = parts.size() - kNamed;
      text += parts.mid(0, kNamed).join(", ") + (more > 0 ? QString(" and %1 more.").arg(more) : QStringLiteral("."));
    }
  }
  detail_->setText(text);
  close_->setVisible(!lost && !holds(state));
  share_->setVisible(shares);
  if (QTreeWidgetItem* item = list_->currentItem()) list_->scrollToItem(item);
}

void FitPanel::show_menu(QPoint global) {
  const std::string name = chosen();
  const Tie* now = store_.scene().tie(name);
  if (!now) return;
  // A copy: the scene may be another one by the time the menu is answered.
  const Tie tie = *now;
  QMenu menu;
  menu.setObjectName("tie menu");
  const QAction* look = menu.addAction("Look at it");
  const QAction* pick = menu.addAction("Pick its parts");
  menu.addSeparator();
  const QAction* close = menu.addAction("Close it");
  const QAction* other = menu.addAction("Close it the other way round");
  const QAction* share = menu.addAction("Spread the error around the ring");
  menu.addSeparator();
  const QAction* suspend = menu.addAction(tie.suspended ? "Watch it again" : "Suspend it");
  const QAction* rename = menu.addAction("Rename it …");
  const QAction* remove = menu.addAction("Delete it");
  const QAction* did = menu.exec(global);
  if (!did || !store_.scene().tie(name)) return;
  if (did == look) look_at(name);
  if (did == pick) {
    std::vector<PartId> parts;
    for (const TackPair& pair : tie.pairs)
      for (const PartId part : {pair.from.part, pair.to.part})
        if (part != kNoPart && std::find(parts.begin(), parts.end(), part) == parts.end()) parts.push_back(part);
    store_.pick(std::move(parts));
  }
  if (did == close || did == other)
    store_.perform(CloseTie{name, did == other ? CloseTie::Moves::Met : CloseTie::Moves::Brought});
  if (did == share) store_.perform(ShareError{name});
  if (did == suspend) store_.perform(EditTie{name, tie.suspended ? EditTie::Do::Watch : EditTie::Do::Suspend, {}});
  if (did == remove) store_.perform(EditTie{name, EditTie::Do::Delete, {}});
  if (did == rename) {
    // The sentence of the step takes the name: it opens there, ready to be typed.
    if (store_.perform(EditTie{name, EditTie::Do::Rename, name})) {
      bench_.look_at_tie(name);
      bench_.open_entry(blank_of(Verb(EditTie{}), "name"));
    }
  }
}

}  // namespace tack
