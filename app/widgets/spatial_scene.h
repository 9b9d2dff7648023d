// A sheet in space as it is drawn: triangles with a colour for each side, the lines on it, a camera and a lamp. Data
// for whichever renderer there is.
#pragma once

#include <QColor>
#include <QMatrix4x4>
#include <QVector3D>

#include <array>
#include <utility>
#include <vector>

class QPainter;

namespace uc::app {

struct SpatialScene {
  struct Triangle {
    std::array<int, 3> corners{};
    QColor face;
    QColor underside;
  };
  struct Line {
    int from = 0;
    int to = 0;
    QColor colour;
  };
  std::vector<QVector3D> vertices; // mm
  std::vector<Triangle> triangles;
  std::vector<Line> lines;
};

struct Lamp {
  double azimuth_deg = 120; // counter-clockwise from the right, where the light comes from
  double height_deg = 45;   // above the table
  double ambient = 0.45;    // of the light that comes from everywhere
  bool shadows = false;
  /// Of a spot lamp's cone, from side to side; what is farther from the lamp gets less. 0: light from far away, in one
  /// direction everywhere.
  double spread_deg = 0;
  /// Towards the lamp, from the middle.
  [[nodiscard]] QVector3D direction() const;
  /// The cosine of half the spot's angle.
  [[nodiscard]] double rim() const;
};

/// From mm in space to device pixels; the third coordinate is nearer to the eye the greater it is.
struct SpatialView {
  QMatrix4x4 to_device;
  QVector3D eye;       // towards the eye, in space
  QVector3D middle;    // of the scene
  double reach_mm = 1; // the scene is smaller; how far it and a spot lamp are from the middle is told over this
  static constexpr double scene_reaches = 0.4;
  static constexpr double spot_reaches = 0.8;
};

/// Towards the lamp from a place, and the share of its light that comes there: 1 in the middle.
std::pair<QVector3D, double> light_at(const Lamp& lamp, const SpatialView& view, const QVector3D& place);

/// Draws the scene without OpenGL: triangles from the farthest to the nearest, no shadows.
void paint_scene(QPainter& painter, const SpatialScene& scene, const SpatialView& view, const Lamp& lamp);

} // namespace uc::app
