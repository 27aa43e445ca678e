#include "app/panels/dimension_rows.h"

#include <QFocusEvent>
#include <QGridLayout>
#include <QLabel>
#include <QRegularExpression>

#include "app/text.h"
#include "app/theme.h"

namespace tack {
namespace {

QString words_of(std::string_view words) { return QString::fromUtf8(words.data(), static_cast<int>(words.size())); }

}  // namespace

DimensionRows::DimensionRows(Store& store, Workbench& bench, QWidget* parent)
    : QWidget(parent), store_(store), bench_(bench) {
  setObjectName("dimensions");
  hide();
}

// The picked parts, if all of them are live shapes of one kind.
std::vector<PartId> DimensionRows::shapes() const {
  const Scene& scene = store_.scene();
  std::optional<ShapeKind> kind;
  for (const PartId id : store_.picked()) {
    const Part* part = scene.find(id);
    if (!part || !part->shape || (kind && *kind != part->shape->shape.kind)) return {};
    kind = part->shape->shape.kind;
  }
  return store_.picked();
}

double DimensionRows::value(Dimension dimension) const {
  const std::vector<PartId> parts = shapes();
  return parts.empty() ? 0 : store_.scene().part(parts.front()).shape->shape[dimension];
}

void DimensionRows::build(ShapeKind kind) {
  kind_ = kind;
  qDeleteAll(findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
  fields_.clear();
  delete layout();
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(0, 2, 0, 0);
  grid->setHorizontalSpacing(5);
  grid->setVerticalSpacing(2);
  const auto has = dimensions_of(kind);
  for (std::size_t i = 0; i < has.size(); ++i) {
    const Dimension d = has[i];
    const QString name = words_of(name_of(kind, d));
    auto* label = new QLabel(name, this);
    label->setFont(ui_font(0.86));
    auto* edit = new EntryEdit(this);
    edit->setFont(number_font(0.94));
    edit->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    edit->setMinimumWidth(52);
    edit->setObjectName("dimension " + name.toLower());
    edit->setAccessibleName(QString("%1 of the %2").arg(name, words_of(word_of(kind))));
    edit->context = [this, d] {
      const std::vector<PartId> parts = shapes();
      return EntryContext{d == Dimension::Sides ? EntryKind::Factor : EntryKind::Length, store_.unit(), value(d),
                          reader_of(Reading{store_.scene(), store_.axes(), parts.empty() ? kNoPart : parts.front()})};
    };
    edit->installEventFilter(this);
    connect(edit, &EntryEdit::accepted, this, [this, i](bool by_tab) {
      commit(i);
      if (!by_tab && i < fields_.size()) fields_[i].edit->selectAll();
    });
    connect(edit, &EntryEdit::nudged, this, [this, i](int steps) { nudge(i, steps); });
    connect(edit, &EntryEdit::left_by_escape, this, [this, edit] {
      edit->clear_mark();
      edit->setModified(false);
      refresh(store_.scene());
      if (auto* stage = window()->findChild<QWidget*>("stage")) stage->setFocus();
    });
    connect(edit, &EntryEdit::wrong, this, [this](const QString& why) {
      if (!why.isEmpty()) store_.say(why, Tone::Wrong);
    });
    // Three to a line, each below its name.
    const int row = static_cast<int>(i / 3) * 2, column = static_cast<int>(i % 3);
    grid->addWidget(label, row, column);
    grid->addWidget(edit, row + 1, column);
    fields_.push_back({d, edit, {}});
  }
  for (int column = 0; column < 3; ++column) grid->setColumnStretch(column, 1);
}

void DimensionRows::refresh(const Scene& scene) {
  const std::vector<PartId> parts = shapes();
  setVisible(!parts.empty());
  if (parts.empty() || !scene.contains(parts.front()) || !scene.part(parts.front()).shape) return;
  const ShapeKind kind = scene.part(parts.front()).shape->shape.kind;
  if (kind_ != kind) build(kind);
  for (QLabel* label : findChildren<QLabel*>()) set_style(*label, "color: " + theme().soft.name());
  for (Field& field : fields_) {
    const auto d = static_cast<std::size_t>(field.dimension);
    const LiveShape& first = *scene.part(parts.front()).shape;
    bool alike = true;
    for (const PartId id : parts)
      alike = alike && scene.part(id).shape && scene.part(id).shape->shape.sizes[d] == first.shape.sizes[d];
    QString text = "several", tip;
    if (alike) {
      const bool sides = field.dimension == Dimension::Sides;
      const double shown_in = sides ? 1 : store_.unit().millimetres, size = first.shape.sizes[d] / shown_in;
      // As many decimals as there is room for; what is hidden is said by the sign before it.
      const QFontMetrics metrics(field.edit->font());
      const int room = field.edit->width() - 14;
      for (int decimals = sides ? 0 : store_.decimals(); decimals >= 0; --decimals) {
        const Shown number = show_number(size, decimals);
        text = (number.exact ? QString() : QStringLiteral("≈")) + QString::fromStdString(number.text);
        if (metrics.horizontalAdvance(text) <= room) break;
      }
      tip = QString::fromStdString(full_digits(size));
      // As it was typed, where that says more than a plain number.
      const QString typed = QString::fromStdString(first.typed[d]);
      const bool plain = QRegularExpression("^[-+]?[0-9.]*$").match(typed).hasMatch();
      if (!plain && metrics.horizontalAdvance(typed) <= room) text = typed;
    }
    field.shown = text;
    if (!field.edit->hasFocus() || !field.edit->isModified()) {
      field.edit->setText(text);
      field.edit->setModified(false);
      field.edit->setCursorPosition(0);
    }
    field.edit->setToolTip(words_of(name_of(kind, field.dimension)) + (tip.isEmpty() ? QString() : ": " + tip));
  }
}

void DimensionRows::commit(std::size_t number) {
  if (number >= fields_.size()) return;
  const Field field = fields_[number];
  QString text = field.edit->text().trimmed();
  if (text == field.shown || !field.edit->isModified()) return;
  // The sign for hidden digits may stand in the field, and means nothing.
  if (text.startsWith(QChar(0x2248))) {
    text = text.mid(1).trimmed();
    field.edit->setText(text);
    field.edit->setModified(true);
  }
  const auto read = field.edit->read();
  if (!read) return;
  SetDimensions set;
  set.what = shapes();
  if (set.what.empty() || !kind_) return;
  set.typed.of(*kind_, field.dimension) = Amount{*read, text.toStdString(), store_.typed_unit()};
  field.edit->setModified(false);
  if (!store_.perform(set)) refresh(store_.scene());
}

// By an increment; a round has sides for each quarter.
void DimensionRows::nudge(std::size_t number, int steps) {
  constexpr double kSidesStep = 4;
  SetDimensions set;
  set.what = shapes();
  if (number >= fields_.size() || set.what.empty() || !kind_) return;
  const Dimension d = fields_[number].dimension;
  set.typed.of(*kind_, d) = d == Dimension::Sides ? more_by(kSidesStep * steps, EntryKind::Factor)
                                                  : more_by(store_.increments().length.step * steps, EntryKind::Length);
  store_.perform(set);
}

bool DimensionRows::eventFilter(QObject* object, QEvent* event) {
  // A field that is left with something typed takes it.
  if (event->type() == QEvent::FocusOut)
    for (std::size_t i = 0; i < fields_.size(); ++i)
      if (fields_[i].edit == object && fields_[i].edit->isModified()) commit(i);
  if (event->type() == QEvent::FocusIn && static_cast<QFocusEvent*>(event)->reason() != Qt::MouseFocusReason) {
    auto* edit = static_cast<EntryEdit*>(object);
    QMetaObject::invokeMethod(
        edit, [edit] { edit->selectAll(); }, Qt::QueuedConnection);
  }
  return QWidget::eventFilter(object, event);
}

}  // namespace tack
