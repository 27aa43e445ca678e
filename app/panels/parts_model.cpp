#include "app/panels/parts_model.h"

#include <QBrush>
#include <QIcon>
#include <QMimeData>
#include <map>

#include "app/text.h"
#include "app/theme.h"

namespace tack {
namespace {

constexpr const char* kMime = "application/x-tackpoint-parts";

// Groups have none, but its room; what is see-through is half filled.
QIcon swatch_of(const Part& part) {
  if (!part.mesh) {
    QPixmap none(22, 22);
    none.fill(Qt::transparent);
    none.setDevicePixelRatio(2);
    return none;
  }
  const Colour c = part.colours.empty() ? Colour{} : part.colours.front();
  return swatch(QColor::fromRgbF(c.r, c.g, c.b), part.see_through);
}

bool same_rows(const Part* before, const Part* now) {
  return before && now && before->parent == now->parent && before->children == now->children;
}

bool looks_alike(const Part& a, const Part& b) {
  return a.name == b.name && a.hidden == b.hidden && a.locked == b.locked && a.colours == b.colours &&
         a.see_through == b.see_through && !a.mesh == !b.mesh;
}

}  // namespace

void PartsModel::show(const Scene& scene) {
  const std::vector<PartId> unlike = scene.unlike(scene_);
  bool same = scene.roots() == scene_.roots();
  std::vector<PartId> changed;
  for (std::size_t i = 0; i < unlike.size() && same; ++i) {
    const Part *before = scene_.find(unlike[i]), *now = scene.find(unlike[i]);
    same = same_rows(before, now);
    if (!same || looks_alike(*before, *now)) continue;
    changed.push_back(unlike[i]);
    same = search_.isEmpty() || before->name == now->name;
  }
  if (same) {
    scene_ = scene;
    return tell_changed(changed);
  }
  beginResetModel();
  scene_ = scene;
  number_rows();
  endResetModel();
}

void PartsModel::find(const QString& text) {
  if (text == search_) return;
  beginResetModel();
  search_ = text;
  number_rows();
  endResetModel();
}

PartId PartsModel::first_found() const {
  for (const PartId id : scene_.in_tree_order())
    if (fits(scene_.part(id))) return id;
  return kNoPart;
}

bool PartsModel::fits(const Part& part) const { return label_of(part.name).contains(search_, Qt::CaseInsensitive); }

const std::vector<PartId>& PartsModel::below(PartId parent) const {
  static const std::vector<PartId> kNone;
  if (!search_.isEmpty()) return parent < found_.size() ? found_[parent] : kNone;
  if (parent == kNoPart) return scene_.roots();
  const Part* part = scene_.find(parent);
  return part ? part->children : kNone;
}

void PartsModel::number_rows() {
  const std::vector<PartId> order = scene_.in_tree_order();
  found_.clear();
  if (!search_.isEmpty()) {
    // A part is shown when its name fits, or that of something below it.
    std::vector<bool> shown(scene_.id_limit(), false);
    for (auto id = order.rbegin(); id != order.rend(); ++id) {
      const Part& part = scene_.part(*id);
      if (!shown[*id] && !fits(part)) continue;
      shown[*id] = true;
      shown[part.parent] = true;
    }
    found_.resize(scene_.id_limit());
    for (const PartId id : order)
      if (shown[id]) found_[scene_.part(id).parent].push_back(id);
  }
  row_.assign(scene_.id_limit(), -1);
  const auto number = [&](const std::vector<PartId>& siblings) {
    for (std::size_t i = 0; i < siblings.size(); ++i) row_[siblings[i]] = static_cast<int>(i);
  };
  number(below(kNoPart));
  for (const PartId id : order) number(below(id));
}

// One note for the rows of each parent: the views look at what of them is seen.
void PartsModel::tell_changed(const std::vector<PartId>& parts) {
  std::map<PartId, std::pair<int, int>> rows;
  for (const PartId id : parts) {
    if (row_[id] < 0) continue;
    const auto [of, is_new] = rows.try_emplace(scene_.part(id).parent, row_[id], row_[id]);
    if (!is_new) of->second = {std::min(of->second.first, row_[id]), std::max(of->second.second, row_[id])};
  }
  for (const auto& [parent, of] : rows) {
    const QModelIndex above = index_of(parent);
    emit dataChanged(index(of.first, Name, above), index(of.second, Locked, above));
  }
}

PartId PartsModel::part_of(const QModelIndex& index) {
  return index.isValid() ? static_cast<PartId>(index.internalId()) : kNoPart;
}

QModelIndex PartsModel::index_of(PartId part, Column column) const {
  if (part == kNoPart || part >= row_.size() || row_[part] < 0) return {};
  return createIndex(row_[part], column, static_cast<quintptr>(part));
}

QModelIndex PartsModel::index(int row, int column, const QModelIndex& parent) const {
  const std::vector<PartId>& rows = below(part_of(parent));
  if (row < 0 || row >= static_cast<int>(rows.size()) || column < 0 || column >= kColumns) return {};
  return createIndex(row, column, static_cast<quintptr>(rows[static_cast<std::size_t>(row)]));
}

QModelIndex PartsModel::parent(const QModelIndex& index) const {
  const Part* part = scene_.find(part_of(index));
  return part ? index_of(part->parent) : QModelIndex();
}

int PartsModel::rowCount(const QModelIndex& parent) const {
  return parent.column() > 0 ? 0 : static_cast<int>(below(part_of(parent)).size());
}

QVariant PartsModel::data(const QModelIndex& index, int role) const {
  const Part* part = scene_.find(part_of(index));
  if (!part) return {};
  const bool name = index.column() == Name, shown = index.column() == Shown;
  switch (role) {
    case Qt::DisplayRole:
    case Qt::EditRole: return name ? label_of(part->name) : QVariant();
    case Qt::DecorationRole:
      if (name) return swatch_of(*part);
      // The everyday state needs no mark: only what is hidden or locked shows one; a click in the column changes it.
      if (shown ? !part->hidden : !part->locked) return {};
      return line_icon(shown ? "hidden" : "locked", theme().soft, 14);
    case Qt::ForegroundRole: return name && part->hidden ? QBrush(theme().soft) : QVariant();
    case Qt::ToolTipRole:
      if (name) return part->see_through ? label_of(part->name) + " · see-through" : label_of(part->name);
      if (shown) return part->hidden ? "Hidden: click to show" : "Shown: click to hide";
      return part->locked ? "Locked: click to unlock" : "Free: click to lock";
    case Qt::AccessibleTextRole:
      if (name) return {};
      return shown ? (part->hidden ? "hidden" : "shown") : (part->locked ? "locked" : "free");
    case Qt::AccessibleDescriptionRole: return name && part->see_through ? "see-through" : QVariant();
    default: return {};
  }
}

QVariant PartsModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
  return section == Name ? "Name" : section == Shown ? "Shown or hidden" : "Free or locked";
}

bool PartsModel::setData(const QModelIndex& index, const QVariant& value, int role) {
  const Part* part = scene_.find(part_of(index));
  const QString name = value.toString().trimmed();
  if (!part || index.column() != Name || role != Qt::EditRole || name == label_of(part->name)) return false;
  emit renamed(part_of(index), name);
  return true;
}

// What is dropped beside all rows hangs at the top of the tree.
Qt::ItemFlags PartsModel::flags(const QModelIndex& index) const {
  if (!index.isValid()) return Qt::ItemIsDropEnabled;
  return Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable | Qt::ItemIsDragEnabled | Qt::ItemIsDropEnabled;
}

QStringList PartsModel::mimeTypes() const { return {kMime}; }

// What is dragged is what is picked: it needs not to be said again, row by row.
QMimeData* PartsModel::mimeData(const QModelIndexList& indexes) const {
  if (indexes.isEmpty()) return nullptr;
  auto* dragged = new QMimeData;
  dragged->setData(kMime, {});
  return dragged;
}

}  // namespace tack
