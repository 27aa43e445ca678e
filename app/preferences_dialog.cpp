#include "app/preferences_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/theme.h"

namespace tack {
namespace {

struct DialogRow {
  const char *name, *words;
  EntryKind kind;
  Increment Increments::*member;
};
constexpr DialogRow kDialogRows[] = {{"length", "Lengths", EntryKind::Length, &Increments::length},
                                     {"angle", "Angles", EntryKind::Angle, &Increments::angle},
                                     {"factor", "Factors", EntryKind::Factor, &Increments::factor}};

QString shown_step(EntryKind kind, double value) {
  return QString::fromStdString(kind == EntryKind::Length  ? show_length(value, kMillimetres, 9).text
                                : kind == EntryKind::Angle ? show_angle(value, 9).text
                                                           : show_number(value, 9).text);
}

}  // namespace

EntryEdit* PreferencesDialog::entry(const QString& name, EntryKind kind, double value) {
  auto* edit = new EntryEdit(this);
  edit->setObjectName(name);
  edit->setAccessibleName(name);
  edit->setText(shown_step(kind, value));
  edit->context = [kind, value] { return EntryContext{kind, kMillimetres, value, {}}; };
  connect(edit, &EntryEdit::wrong, this, [this](const QString& why) { says_->setText(why); });
  return edit;
}

PreferencesDialog::PreferencesDialog(const Preferences& p, QWidget* parent)
    : QDialog(parent),
      before_(p),
      unit_(new ChoiceRow({}, this)),
      theme_(new ChoiceRow({"Day", "Night", "As the system"}, this)),
      decimals_(new QSpinBox(this)),
      radius_(new QSpinBox(this)),
      text_(new QSpinBox(this)),
      on_(new QCheckBox("Drags land on increments", this)),
      remembers_(new QCheckBox("Remember every meeting as a tie", this)),
      keeps_steps_(new QCheckBox("Keep the steps in saved documents", this)),
      says_(new QLabel(this)) {
  setObjectName("preferences");
  setWindowTitle("Preferences – Tack Point");
  for (const LengthUnit& unit : kLengthUnits) unit_->add(QString::fromUtf8(unit.name.data()));
  unit_->choose(p.unit);
  unit_->setObjectName("unit");
  theme_->choose(static_cast<int>(p.theme));
  theme_->setObjectName("theme");
  decimals_->setRange(0, 9);
  decimals_->setValue(p.decimals);
  decimals_->setObjectName("decimals");
  radius_->setRange(2, 60);
  radius_->setSuffix(" pixels");
  radius_->setValue(p.catch_radius);
  radius_->setObjectName("catch radius");
  text_->setRange(75, 200);
  text_->setSingleStep(5);
  text_->setSuffix(" %");
  text_->setValue(p.text_percent);
  text_->setObjectName("text size");
  on_->setChecked(p.increments.on);
  on_->setObjectName("increments on");
  remembers_->setChecked(p.remembers);
  remembers_->setObjectName("remembers");
  keeps_steps_->setChecked(p.keeps_steps);
  keeps_steps_->setObjectName("keeps steps");
  keeps_steps_->setToolTip(
      "A document then can be opened with its steps, which can be changed and left out.\n"
      "Without them it holds the scene alone; so does every exported file.");
  touch_ = entry("touch", EntryKind::Length, p.touch);
  says_->setObjectName("preferences say");
  says_->setWordWrap(true);
  says_->setStyleSheet("color: " + theme().wrong.name());
  auto* form = new QFormLayout;
  form->setHorizontalSpacing(16);
  form->setVerticalSpacing(7);
  const auto heading = [&](const QString& text) {
    auto* label = new QLabel(text, this);
    label->setFont(ui_font(1, QFont::DemiBold));
    label->setContentsMargins(0, 8, 0, 0);
    form->addRow(label);
  };
  const auto row = [&](const QString& text, QWidget* field) {
    form->addRow(text, field);
    if (field->accessibleName().isEmpty() || field == touch_) field->setAccessibleName(text);
  };
  heading("Lengths");
  row("Unit of new scenes", unit_);
  row("Decimals shown, at most", decimals_);
  row("Two places touch up to", touch_);
  heading("Increments");
  form->addRow(on_);
  for (int i = 0; i < 3; ++i) {
    const DialogRow& step = kDialogRows[i];
    const Increment& increment = p.increments.*step.member;
    steps_[i] = entry(QString("step of ") + step.name, step.kind, increment.step);
    from_[i] = new ChoiceRow({"from here", "from zero"}, this);
    from_[i]->choose(increment.from == LandsFrom::Zero ? 1 : 0);
    from_[i]->setAccessibleName(QString("Multiples of %1 count").arg(step.name));
    auto* both = new QWidget(this);
    auto* line = new QHBoxLayout(both);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(steps_[i], 1);
    line->addWidget(from_[i]);
    form->addRow(step.words, both);
  }
  heading("Stage");
  row("Places are caught within", radius_);
  form->addRow(remembers_);
  heading("Files");
  form->addRow(keeps_steps_);
  heading("Look");
  row("Theme", theme_);
  row("Text size", text_);
  auto* buttons = new QDialogButtonBox(this);
  buttons->addButton("Keep", QDialogButtonBox::AcceptRole)->setDefault(true);
  buttons->addButton("Leave as it was", QDialogButtonBox::RejectRole);
  connect(buttons, &QDialogButtonBox::accepted, this, &PreferencesDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(theme_, &ChoiceRow::changed, this, &PreferencesDialog::changed);
  connect(text_, &QSpinBox::valueChanged, this, &PreferencesDialog::changed);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 12, 20, 16);
  layout->addLayout(form);
  layout->addWidget(says_);
  layout->addWidget(buttons);
}

Preferences PreferencesDialog::preferences() const {
  Preferences p = before_;
  p.unit = unit_->chosen_word();
  p.decimals = decimals_->value();
  p.catch_radius = radius_->value();
  p.text_percent = text_->value();
  p.remembers = remembers_->isChecked();
  p.keeps_steps = keeps_steps_->isChecked();
  p.theme = static_cast<Preferences::Theme>(theme_->chosen());
  p.increments.on = on_->isChecked();
  if (const auto touch = touch_->read(); touch && *touch >= 1e-9 && *touch <= 1000) p.touch = *touch;
  for (int i = 0; i < 3; ++i) {
    Increment& increment = p.increments.*kDialogRows[i].member;
    if (const auto step = steps_[i]->read(); step && *step >= 1e-9 && *step <= 1e9) increment.step = *step;
    increment.from = from_[i]->chosen() == 1 ? LandsFrom::Zero : LandsFrom::Here;
  }
  return p;
}

// A field that makes no sense keeps the box open and says why.
void PreferencesDialog::accept() {
  const auto touch = touch_->read();
  if (!touch) return touch_->setFocus();
  if (!(*touch >= 1e-9 && *touch <= 1000)) {
    says_->setText("Two places touch up to more than 0 and at most 1 m.");
    return touch_->setFocus();
  }
  for (int i = 0; i < 3; ++i) {
    const auto step = steps_[i]->read();
    if (!step) return steps_[i]->setFocus();
    if (*step >= 1e-9 && *step <= 1e9) continue;
    says_->setText("An increment is more than 0.");
    return steps_[i]->setFocus();
  }
  QDialog::accept();
}

}  // namespace tack
