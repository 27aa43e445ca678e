#include "app/files/import_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/theme.h"
#include "core/verbs/verb.h"

namespace tack {

constexpr QSize kPicture{380, 190};

ImportDialog::ImportDialog(const QString& file, const Delivery& delivery, bool dropped,
                           std::function<QImage(const Scene&, const QSize&)> picture, QWidget* parent)
    : QDialog(parent),
      draw_(std::move(picture)),
      guessed_(delivery.read_as.value_or(FileAxes{})),
      unit_(new ChoiceRow({}, this)),
      up_(new ChoiceRow({"Y", "Z"}, this)),
      where_(new ChoiceRow({}, this)),
      result_(new QLabel(this)),
      picture_(new QLabel(this)) {
  setObjectName("import");
  setWindowTitle(QString("Bring in %1").arg(file));
  if (auto document = document_of(delivery)) scene_ = std::move(document->scene);
  size_ = world_box_of(scene_).size() / guessed_.unit;
  for (const LengthUnit& unit : kLengthUnits) {
    unit_->add(QString::fromUtf8(unit.name.data()));
    units_.push_back(unit.millimetres);
  }
  auto known = std::find(units_.begin(), units_.end(), guessed_.unit);
  if (known == units_.end()) {
    unit_->add(QString("%1 mm").arg(QString::fromStdString(show_number(guessed_.unit, 6).text)));
    known = units_.insert(known, guessed_.unit);
  }
  unit_->choose(static_cast<int>(known - units_.begin()));
  const auto place = [this](Where where, const char* words) {
    where_->add(words);
    places_.push_back(where);
  };
  if (dropped) place(Where::Dropped, "where it was dropped");
  place(Where::AsInFile, "where the file has it");
  place(Where::OnTheFloor, "on the floor, in the middle of the view");
  where_->choose(0);
  unit_->setObjectName("unit");
  unit_->setAccessibleName("One unit of the file is one");
  up_->choose(guessed_.up == UpAxis::Y ? 0 : 1);
  up_->setObjectName("up");
  up_->setAccessibleName("Axis that points up in the file");
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
  auto* heading = new QLabel(QString("Bring in %1").arg(file), this);
  heading->setObjectName("import heading");
  heading->setFont(ui_font(1.22, QFont::DemiBold));
  heading->setTextFormat(Qt::PlainText);
  picture_->setObjectName("import picture");
  picture_->setAccessibleName("What comes in, as it will stand");
  picture_->setAlignment(Qt::AlignCenter);
  picture_->setFixedHeight(kPicture.height());
  std::size_t triangles = 0;
  for (const MeshSpans& mesh : delivery.meshes) triangles += mesh.triangles.size();
  // More would keep the window waiting.
  constexpr std::size_t kMost = 300000;
  draws_ = triangles <= kMost;
  auto* about = new QLabel("Unit and axis are what the file says of itself, or else what is usual for its kind.", this);
  about->setWordWrap(true);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 16, 20, 16);
  layout->setSpacing(12);
  layout->addWidget(heading);
  layout->addWidget(picture_);
  layout->addWidget(about);
  layout->addLayout(form);
  layout->addWidget(buttons);
  connect(unit_, &ChoiceRow::changed, this, &ImportDialog::show_size);
  connect(up_, &ChoiceRow::changed, this, &ImportDialog::show_size);
  show_size();
}

ImportOptions ImportDialog::options() const {
  ImportOptions options;
  options.unit = units_[unit_->chosen()];
  options.up = up_->chosen() == 0 ? UpAxis::Y : UpAxis::Z;
  return options;
}

// As it will stand: turned where another axis than the guessed one points up.
void ImportDialog::show_picture() {
  Scene shown = scene_;
  if (*options().up != guessed_.up) {
    const double way = guessed_.up == UpAxis::Y ? -90 : 90;  // what was read as Y up lies on its back as Z up
    for (const PartId id : shown.roots()) {
      Rotate turn;
      turn.what = {id};
      turn.about = about_place({TackKind::Point, kNoPart, 0, {}});
      turn.round.axis = 0;
      turn.angle = Amount{way};
      if (auto turned = tack::apply(Verb(turn), shown)) shown = std::move(*turned);
    }
  }
  const QSize size = kPicture * devicePixelRatioF();
  QImage image = draw_ && draws_ ? draw_(shown, size) : QImage();
  if (image.isNull()) {
    picture_->setText("Too much to be shown here at once.");
    return;
  }
  image.setDevicePixelRatio(devicePixelRatioF());
  picture_->setPixmap(QPixmap::fromImage(image));
}

void ImportDialog::show_size() {
  const ImportOptions o = options();
  Vec3 size = size_;
  if (*o.up != guessed_.up) std::swap(size.y, size.z);
  const auto text = [&](double v) { return QString::fromStdString(show_number(v * *o.unit, 3).text); };
  result_->setText(QString("%1 × %2 × %3 mm").arg(text(size.x), text(size.y), text(size.z)));
  show_picture();
}

}  // namespace tack
