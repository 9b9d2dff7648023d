// A sheet in space as it is drawn: triangles with a colour for each side, the lines on it, a camera and a lamp. Data
// for whichever renderer there is.
#pragma once

#include "io/lamp.h"

#include <QColor>
#include <QMatrix4x4>
#include <QVector3D>

#include <array>
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

/// From mm in space to device pixels; the third coordinate is nearer to the eye the greater it is.
struct SpatialView {
  QMatrix4x4 to_device;
  QVector3D eye;       // towards the eye, in space
  QVector3D middle;    // of the scene
  double reach_mm = 1; // the scene is smaller; how far it and a spot lamp are from the middle is told over this
};

/// Towards the lamp, from the middle.
QVector3D towards(const Lamp& lamp);

/// Draws the scene without OpenGL: triangles from the farthest to the nearest, no shadows.
void paint_scene(QPainter& painter, const SpatialScene& scene, const SpatialView& view, const Lamp& lamp);

} // namespace uc::app
