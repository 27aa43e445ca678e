// What stands over an elevation: whose it is, true lengths along its edges, the extent of what is picked; declared in
// overlay.h.
#include <QFontMetricsF>

#include "app/stage/overlay.h"
#include "app/stage/stage.h"
#include "app/theme.h"

namespace tack {
namespace {

constexpr double kBand = 17;  // pixels: where the ticks and their numbers stand

QString length_words(double mm, const LengthUnit& unit) {
  return QString::fromStdString(show_length(mm, unit, 3).text);
}

}  // namespace

void Overlay::paint_elevation(QPainter& p, Elevation elevation, const Marks& marks) {
  const ElevationAxes axes = elevation_axes(elevation);
  const Mat3 frame = stage_.elevation_frame();
  const LengthUnit unit = stage_.store_.unit();
  const double scale = view_.pixels_per_unit;
  // Where the middle of the picture is along the frame's axes.
  const Vec3 middle = transpose(frame) * view_.eye;
  const int along = static_cast<int>(axes.along), up = static_cast<int>(axes.up);
  const QRectF below(0, view_.height - kBand, view_.width, kBand), beside(0, 0, 30, view_.height - kBand);
  QColor paper = theme().paper;
  paper.setAlphaF(0.82f);
  p.fillRect(below, paper);
  p.setFont(number_font(0.82));
  const QFontMetricsF metrics(p.font());
  const double tick = tick_spacing(scale, 7), step = tick * (tick * scale * 5 >= 64 ? 5 : 10);
  const auto ticks = [&](double centre, double pixels, auto&& draw) {
    const double low = centre - pixels / 2 / scale, high = centre + pixels / 2 / scale;
    if ((high - low) / tick > 2000) return;
    for (double k = std::ceil(low / tick); k * tick <= high; ++k)
      draw((k * tick - low) * scale, k * tick, std::abs(std::remainder(k * tick, step)) < tick * 1e-6);
  };
  const auto number = [&](double value) {
    return QString::fromStdString(show_number(value / unit.millimetres, 3).text);
  };
  p.setPen(QPen(theme().soft, 1));
  ticks(middle[along], view_.width, [&](double x, double value, bool long_one) {
    p.drawLine(QPointF(x, below.top()), QPointF(x, below.top() + (long_one ? 6 : 3)));
    if (!long_one) return;
    const QString text = number(value);
    const QRectF box(x + 3, below.top() + 2, metrics.horizontalAdvance(text) + 2, kBand - 3);
    if (box.right() < view_.width - 2) p.drawText(box, Qt::AlignLeft | Qt::AlignVCenter, text);
  });
  ticks(middle[up], view_.height, [&](double y, double value, bool long_one) {
    const double at = view_.height - y;
    if (at > below.top() || at < 22) return;
    p.drawLine(QPointF(0, at), QPointF(long_one ? 6 : 3, at));
    if (!long_one) return;
    const QString text = number(value);
    p.drawText(QRectF(8, at - metrics.height() / 2, metrics.horizontalAdvance(text) + 2, metrics.height()),
               Qt::AlignLeft | Qt::AlignVCenter, text);
  });
  now().keep_clear(below);
  now().keep_clear(beside);
  // Whose front or side it is.
  const QString whose = QString::fromStdString(axes_words(stage_.store_.axes(), stage_.store_.scene()));
  const QString title = QString("%1 · %2").arg(elevation == Elevation::Front ? "from the front" : "from the right",
                                               stage_.store_.axes().kind == AxesKind::World ? "World" : whose);
  p.setFont(ui_font(0.94));
  const QRectF name(6, 3, QFontMetricsF(p.font()).horizontalAdvance(title) + 10, QFontMetricsF(p.font()).height() + 3);
  p.setPen(Qt::NoPen);
  p.setBrush(paper);
  p.drawRoundedRect(name, 3, 3);
  p.setPen(theme().soft);
  p.drawText(name, Qt::AlignCenter, title);
  now().keep_clear(name);
  paint_extent(p, elevation, frame, marks);
}

// The extent of what is picked, as on a drawing: below it and beside it.
void Overlay::paint_extent(QPainter& p, Elevation elevation, const Mat3& frame, const Marks& marks) {
  const std::vector<PartId>& picked = stage_.store_.picked();
  if (picked.empty()) return;
  const Scene& scene = marks.shown ? *marks.shown : stage_.store_.scene();
  const Box box = elevation_box(scene, picked, frame);
  const auto dimensions = elevation_dimensions(box, frame, elevation);
  for (std::size_t i = 0; i < dimensions.size(); ++i) {
    const auto from = pixel(dimensions[i].from), to = pixel(dimensions[i].to);
    if (!from || !to || QLineF(*from, *to).length() < 3) continue;
    constexpr double kOff = 12;
    const QPointF off = i == 0 ? QPointF(0, kOff) : QPointF(-kOff, 0);
    const QPointF a = *from + off, b = *to + off;
    QColor thin = theme().ink;
    thin.setAlphaF(0.55f);
    p.setPen(QPen(thin, 1));
    p.drawLine(*from + off * 0.25, a + off * 0.35);
    p.drawLine(*to + off * 0.25, b + off * 0.35);
    const QLineF line(a, b);
    for (const auto& [width, ink] : {std::pair{3.4, theme().card}, {1.3, theme().ink}}) {
      p.setPen(QPen(ink, width, Qt::SolidLine, Qt::FlatCap));
      p.drawLine(line);
    }
    const QPointF way = (b - a) / line.length(), side(-way.y(), way.x());
    p.setPen(Qt::NoPen);
    p.setBrush(theme().ink);
    for (const bool high : {false, true}) {
      const QPointF tip = high ? b : a, back = high ? -way : way;
      p.drawPolygon(QPolygonF{{tip, tip + back * 7 + side * 2.3, tip + back * 7 - side * 2.3}});
    }
    now().keep_clear(a, b);
    Label label{length_words(dimensions[i].length, stage_.store_.unit()), (a + b) / 2 + off * 0.9, LabelRank::Dimension,
                theme().ink, number_font(0.94)};
    label.look = Label::Look::Bare;
    label.centred = i == 0;
    label.away = 4;
    label.pad = 3;
    now().add(label);
  }
}

}  // namespace tack
