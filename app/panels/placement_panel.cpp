#include "app/panels/placement_panel.h"

#include <QFocusEvent>
#include <QVBoxLayout>

#include "app/theme.h"

namespace tack {
namespace {

const char* const kRowNames[] = {"Position", "Rotation", "Own size", "Factor", "Pivot"};

EntryKind kind_of(int row) { return row == 1 ? EntryKind::Angle : row == 3 ? EntryKind::Factor : EntryKind::Length; }

}  // namespace

PlacementPanel::PlacementPanel(Store& store, QWidget* parent)
    : QWidget(parent),
      store_(store),
      axes_(new QLabel(this)),
      empty_(new QLabel(this)),
      skew_(new QLabel(this)),
      table_(new QWidget(this)) {
  setObjectName("placement");
  auto* title = new QLabel(tr("Placement"), this);
  title->setFont(ui_font(0.95, QFont::DemiBold));
  axes_->setFont(ui_font(0.95, QFont::Medium));
  empty_->setWordWrap(true);
  empty_->setText(tr("Pick a part to see where it stands."));
  skew_->setWordWrap(true);
  auto* top = new QHBoxLayout;
  top->addWidget(title);
  top->addStretch(1);
  top->addWidget(axes_);
  auto* grid = new QGridLayout(table_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(5);
  grid->setVerticalSpacing(5);
  for (int axis = 0; axis < 3; ++axis) {
    auto* letter = new QLabel(QString("XYZ").mid(axis, 1), table_);
    letter->setObjectName(QString("axis %1").arg(axis));
    letter->setAlignment(Qt::AlignCenter);
    letter->setFont(ui_font(0.95, QFont::DemiBold));
    grid->addWidget(letter, 0, axis + 1);
    grid->setColumnStretch(axis + 1, 1);
  }
  for (int row = 0; row < kRows; ++row) {
    auto* name = new QLabel(tr(kRowNames[row]), table_);
    name->setObjectName("row name");
    name->setFont(ui_font(0.97));
    grid->addWidget(name, row + 1, 0);
    for (int axis = 0; axis < 3; ++axis) {
      auto* edit = new EntryEdit(table_);
      edit->setFont(number_font(0.97));
      edit->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
      edit->setMinimumWidth(52);
      edit->setObjectName(QString("%1 %2").arg(QString(kRowNames[row]).toLower(), QString("xyz").mid(axis, 1)));
      edit->setAccessibleName(tr("%1 along %2").arg(tr(kRowNames[row]), QString("XYZ").mid(axis, 1)));
      edit->setReadOnly(row == Size || row == Pivot);
      edit->setFocusPolicy(row == Size || row == Pivot ? Qt::ClickFocus : Qt::StrongFocus);
      edit->context = [this, row] { return EntryContext{kind_of(row), store_.unit(), 0.0, reader_of(store_.scene())}; };
      edit->installEventFilter(this);
      connect(edit, &EntryEdit::accepted, this, [this, row, axis](bool by_tab) {
        commit(static_cast<Row>(row), axis);
        if (!by_tab) fields_[static_cast<std::size_t>(row)][static_cast<std::size_t>(axis)].edit->selectAll();
      });
      connect(edit, &EntryEdit::left_by_escape, this, [this, edit] {
        edit->clear_mark();
        edit->setModified(false);  // what was typed is dropped
        refresh();
        if (auto* stage = window()->findChild<QWidget*>("stage")) stage->setFocus();
      });
      connect(edit, &EntryEdit::wrong, this, [this](const QString& why) {
        if (!why.isEmpty()) store_.say(why, Tone::Wrong);
      });
      grid->addWidget(edit, row + 1, axis + 1);
      fields_[static_cast<std::size_t>(row)][static_cast<std::size_t>(axis)].edit = edit;
    }
  }
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(14, 8, 14, 8);
  layout->setSpacing(6);
  layout->addLayout(top);
  layout->addWidget(empty_);
  layout->addWidget(table_);
  layout->addWidget(skew_);
  layout->addStretch(1);
  connect(&store_, &Store::scene_changed, this, &PlacementPanel::refresh);
  connect(&store_, &Store::picked_changed, this, &PlacementPanel::refresh);
  connect(&store_, &Store::axes_changed, this, &PlacementPanel::refresh);
  refresh();
}

bool PlacementPanel::eventFilter(QObject* object, QEvent* event) {
  // A field that is left with something typed takes it; a bad entry stays marked, and the old value in force.
  if (event->type() == QEvent::FocusOut) {
    for (int row = 0; row < kRows; ++row)
      for (int axis = 0; axis < 3; ++axis) {
        const Field& f = fields_[static_cast<std::size_t>(row)][static_cast<std::size_t>(axis)];
        if (f.edit == object && !f.edit->isReadOnly() && f.edit->text() != f.shown) commit(static_cast<Row>(row), axis);
      }
  }
  if (event->type() == QEvent::FocusIn && static_cast<QFocusEvent*>(event)->reason() != Qt::MouseFocusReason) {
    auto* edit = static_cast<EntryEdit*>(object);
    QMetaObject::invokeMethod(
        edit, [edit] { edit->selectAll(); }, Qt::QueuedConnection);
  }
  return QWidget::eventFilter(object, event);
}

void PlacementPanel::refresh() {
  const Scene& scene = store_.scene();
  const auto& picked = store_.picked();
  axes_->setText(tr("in %1 axes").arg(QString::fromUtf8(word_for(store_.axes()).data())));
  empty_->setVisible(picked.empty());
  table_->setVisible(!picked.empty());
  for (int axis = 0; axis < 3; ++axis)
    if (auto* letter = table_->findChild<QLabel*>(QString("axis %1").arg(axis)))
      letter->setStyleSheet("color: " + theme().axis[axis].name());
  for (QLabel* label : table_->findChildren<QLabel*>("row name")) label->setStyleSheet("color: " + theme().soft.name());
  axes_->setStyleSheet("color: " + theme().soft.name());
  empty_->setStyleSheet("color: " + theme().soft.name());
  skew_->hide();
  if (picked.empty()) return;
  std::array<std::array<std::vector<double>, 3>, kRows> values;
  std::array<std::array<std::vector<std::string>, 3>, kRows> texts;
  bool skewed = false;
  for (const PartId id : picked) {
    const Part& part = scene.part(id);
    const PlacedNumbers n = numbers_in(scene, id, store_.axes());
    skewed |= n.skew != Vec3{};
    const Vec3 size = own_size(scene, id);
    for (int axis = 0; axis < 3; ++axis) {
      const auto i = static_cast<std::size_t>(axis);
      values[Position][i].push_back(n.position[axis]);
      values[Rotation][i].push_back(n.rotation[axis]);
      values[Factor][i].push_back(n.scale[axis]);
      values[Size][i].push_back(size[axis]);
      values[Pivot][i].push_back(part.placement.pivot[axis]);
      texts[Position][i].push_back(n.position_text[i]);
      texts[Rotation][i].push_back(n.rotation_text[i]);
      texts[Factor][i].push_back(n.scale_text[i]);
    }
  }
  for (int row = 0; row < kRows; ++row)
    for (int axis = 0; axis < 3; ++axis)
      show_field(static_cast<Row>(row), axis, values[static_cast<std::size_t>(row)][static_cast<std::size_t>(axis)],
                 texts[static_cast<std::size_t>(row)][static_cast<std::size_t>(axis)]);
  skew_->setVisible(skewed);
  skew_->setStyleSheet("color: " + theme().drifting.name());
  skew_->setText(tr("Skewed in these axes: an unevenly scaled parent stands above it."));
}

void PlacementPanel::show_field(Row row, int axis, const std::vector<double>& values,
                                const std::vector<std::string>& texts) {
  Field& field = fields_[static_cast<std::size_t>(row)][static_cast<std::size_t>(axis)];
  if (field.edit->hasFocus() && field.edit->text() != field.shown && field.edit->isModified()) return;  // being typed
  const bool same = std::all_of(values.begin(), values.end(),
                                [&](double v) { return std::abs(v - values.front()) <= 1e-9 * (1 + std::abs(v)); });
  QString text;
  QString tip;
  if (!same) {
    text = tr("several");
  } else {
    const EntryKind kind = kind_of(row);
    const double unit = kind == EntryKind::Length ? store_.unit().millimetres : 1;
    const Shown shown = show_number(values.front() / unit, store_.decimals());
    text = (shown.exact ? QString() : QStringLiteral("≈")) + QString::fromStdString(shown.text) +
           (kind == EntryKind::Angle ? "°" : "");
    if (!shown.exact) tip = tr("In full: %1").arg(QString::fromStdString(full_digits(values.front() / unit)));
    if (!texts.empty() && !texts.front().empty() && values.size() == 1)
      tip = tr("Typed as %1").arg(QString::fromStdString(texts.front()));
  }
  field.shown = text;
  field.edit->setToolTip(tip);
  if (field.edit->text() != text) field.edit->setText(text);
  field.edit->setModified(false);
  field.edit->setCursorPosition(0);
}

void PlacementPanel::commit(Row row, int axis) {
  const Field& field = fields_[static_cast<std::size_t>(row)][static_cast<std::size_t>(axis)];
  if (field.edit->isReadOnly() || field.edit->text() == field.shown || !field.edit->isModified()) return;
  // The sign for hidden digits may stand in the field and mean nothing.
  QString text = field.edit->text().trimmed();
  if (text.startsWith(QChar(0x2248))) text.remove(0, 1);
  const auto value = field.edit->read();
  if (!value) return;
  Place place;
  place.what = store_.picked();
  place.axes = store_.axes();
  Amounts& group = row == Position ? place.position : row == Rotation ? place.rotation : place.scale;
  group[static_cast<std::size_t>(axis)] =
      Amount{*value, text.toStdString(), kind_of(row) == EntryKind::Length ? store_.unit() : kMillimetres};
  field.edit->setModified(false);
  if (!store_.perform(place)) field.edit->mark({0, text.toStdString().size(), tr("This was refused.").toStdString()});
}

}  // namespace tack
