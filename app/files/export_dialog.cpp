#include "app/files/export_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/theme.h"

namespace tack {
namespace {

struct ExportFormat {
  const char *ending, *words, *about;
};
constexpr ExportFormat kFormats[] = {
    {".obj", "OBJ", "Numbers with 17 digits, one object for each part. The usual choice."},
    {".ply", "PLY", "Positions in double, one mesh for everything."},
    {".stl", "STL", "One mesh for everything, in single precision: about 7 digits are kept."},
};

}  // namespace

ExportDialog::ExportDialog(const LengthUnit& unit, bool picked, QWidget* parent)
    : QDialog(parent),
      what_(new ChoiceRow({"everything that is shown"}, this)),
      format_(new ChoiceRow({}, this)),
      unit_(new ChoiceRow({}, this)),
      up_(new ChoiceRow({"Z", "Y"}, this)),
      about_(new QLabel(this)) {
  setObjectName("export");
  setWindowTitle("Export – Tack Point");
  if (picked) what_->add("what is picked, with all below it");
  what_->choose(picked ? 1 : 0);
  for (const ExportFormat& f : kFormats) format_->add(f.words);
  for (const LengthUnit& u : kLengthUnits) unit_->add(QString::fromUtf8(u.name.data()));
  unit_->choose(QString::fromUtf8(unit.name.data()));
  about_->setWordWrap(true);
  about_->setStyleSheet("color: " + theme().soft.name());
  about_->setMinimumHeight(2 * fontMetrics().lineSpacing());
  const std::tuple<const char*, const char*, ChoiceRow*> rows[] = {{"What", "what", what_},
                                                                   {"Format", "format", format_},
                                                                   {"One unit of the file is one", "unit", unit_},
                                                                   {"What points up in the file", "up", up_}};
  auto* form = new QFormLayout;
  form->setHorizontalSpacing(16);
  for (const auto& [words, name, box] : rows) {
    box->setObjectName(name);
    box->setAccessibleName(words);
    form->addRow(words, box);
  }
  auto* buttons = new QDialogButtonBox(this);
  buttons->addButton("Choose where …", QDialogButtonBox::AcceptRole)->setDefault(true);
  buttons->addButton("Leave it", QDialogButtonBox::RejectRole);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(format_, &ChoiceRow::changed, this, &ExportDialog::explain);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 16, 20, 16);
  layout->setSpacing(12);
  layout->addLayout(form);
  layout->addWidget(about_);
  layout->addWidget(buttons);
  explain();
}

QString ExportDialog::ending() const { return kFormats[format_->chosen()].ending; }

ExportOptions ExportDialog::options() const {
  return {kLengthUnits[unit_->chosen()].millimetres, up_->chosen() == 0 ? UpAxis::Z : UpAxis::Y};
}

void ExportDialog::explain() { about_->setText(kFormats[format_->chosen()].about); }

}  // namespace tack
