#include "app/files/import_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/theme.h"

namespace tack {

ImportDialog::ImportDialog(const QString& file, const Delivery& delivery, UpAxis guessed_up, QWidget* parent)
    : QDialog(parent),
      guessed_(guessed_up),
      unit_(new QComboBox(this)),
      up_(new QComboBox(this)),
      where_(new QComboBox(this)),
      result_(new QLabel(this)) {
  setObjectName("import");
  setWindowTitle(QString("Bring in %1").arg(file));
  Box box;
  for (const MeshData& mesh : delivery.meshes)
    for (const Vec3& p : mesh.positions) box.include(p);
  size_ = box.size();
  for (const LengthUnit& unit : kLengthUnits) unit_->addItem(QString::fromUtf8(unit.name.data()));
  unit_->setAccessibleName("One unit of the file is one");
  up_->addItems({"Y", "Z"});
  up_->setCurrentIndex(guessed_ == UpAxis::Y ? 0 : 1);
  up_->setAccessibleName("Axis that points up in the file");
  where_->addItems({"where the file has it", "on the floor, in the middle of the view"});
  where_->setObjectName("where");
  where_->setAccessibleName("Where it goes");
  result_->setFont(number_font());
  auto* form = new QFormLayout;
  form->addRow("One unit of the file is one", unit_);
  form->addRow("What points up in the file", up_);
  form->addRow("Where it goes", where_);
  form->addRow("Size in the scene", result_);
  auto* buttons = new QDialogButtonBox(this);
  buttons->addButton("Bring in", QDialogButtonBox::AcceptRole)->setDefault(true);
  buttons->addButton("Leave it", QDialogButtonBox::RejectRole);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  auto* about = new QLabel(QString("%1 does not say in which unit it is, nor what points up.").arg(file), this);
  about->setWordWrap(true);
  auto* layout = new QVBoxLayout(this);
  layout->setSpacing(12);
  layout->addWidget(about);
  layout->addLayout(form);
  layout->addWidget(buttons);
  connect(unit_, &QComboBox::currentIndexChanged, this, &ImportDialog::show_size);
  connect(up_, &QComboBox::currentIndexChanged, this, &ImportDialog::show_size);
  show_size();
}

ImportOptions ImportDialog::options() const {
  ImportOptions options;
  options.unit = kLengthUnits[unit_->currentIndex()].millimetres;
  options.up = up_->currentIndex() == 0 ? UpAxis::Y : UpAxis::Z;
  return options;
}

void ImportDialog::show_size() {
  const ImportOptions o = options();
  Vec3 size = size_;
  if (*o.up != guessed_) std::swap(size.y, size.z);
  const auto text = [&](double v) { return QString::fromStdString(show_number(v * *o.unit, 3).text); };
  result_->setText(QString("%1 × %2 × %3 mm").arg(text(size.x), text(size.y), text(size.z)));
}

}  // namespace tack
