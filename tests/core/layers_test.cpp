// The order of layers: known counts, brute force over all stackings of small patterns, orders checked by looking along
// the creases, clashes that are minimal.
#include "base/index.h"
#include "form/layer_components.h"
#include "form/layer_count.h"
#include "form/proof.h"
#include "form/smallest_set.h"
#include "patterns.h"
#include "runner.h"
#include "support.h"

#include <nlohmann/json.hpp>

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>
#include <random>
#include <set>

using namespace uc;

namespace {

/// What lies along the folded creases, found by looking at points beside them; independent of the arrangement of cells.
struct Look {
  int f, g;                               // the faces of the crease
  std::vector<int> through;               // faces on both sides of it
  std::vector<std::array<int, 2>> nested; // other creases folded along the same line to the same side
};

std::vector<Look> looks(const CreasePattern& p, const PatternGraph& g, const FoldedForm& form) {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> part(0.02, 0.98);
  std::vector<Polygon> folded;
  for (std::size_t f = 0; f < g.faces.size(); ++f) {
    Polygon outline = outline_of(p, g.faces[f]);
    for (Point& q : outline) q = form.place[f] * q;
    folded.push_back(outline);
  }
  std::vector<VertexId> cycle;
  const auto covers = [&](std::size_t f, const Point& q) {
    cycle.clear();
    for (std::size_t i = 0; i < folded[f].size(); ++i) cycle.emplace_back(i);
    return contains(folded[f], cycle, q);
  };
  std::vector<Look> out;
  for (std::size_t e = 0; e < p.edges.size(); ++e) {
    const auto [f, h] = g.sides[e];
    if (!folds(p.edges[e].kind) || f < 0 || h < 0) continue;
    const Segment flat = p.segment(CreaseId(e));
    const Segment s{form.place[at(f)] * flat.from, form.place[at(f)] * flat.to};
    Point n = Line::through(s.from, s.to).normal;
    for (int i = 0; i < 12; ++i) {
      const Point q = s.at(part(random));
      const double eps = 1e-5 * s.length();
      if (!covers(at(f), q + eps * n)) n = -n;
      Look look{f, h, {}, {}};
      for (std::size_t k = 0; k < g.faces.size(); ++k) {
        if (covers(k, q + eps * n) && covers(k, q - eps * n)) look.through.push_back(static_cast<int>(k));
      }
      for (std::size_t o = 0; o < p.edges.size(); ++o) {
        const auto [a, b] = g.sides[o];
        if (o == e || !folds(p.edges[o].kind) || a < 0 || b < 0) continue;
        const Segment of = p.segment(CreaseId(o));
        const Segment t{form.place[at(a)] * of.from, form.place[at(a)] * of.to};
        if (std::abs(Line::through(t.from, t.to).distance(q)) > 1e-7) continue;
        const double along = (q - t.from).dot(t.to - t.from) / t.length() / t.length();
        if (along > 0 && along < 1 && covers(at(a), q + eps * n) && covers(at(b), q + eps * n))
          look.nested.push_back({a, b});
      }
      out.push_back(look);
    }
  }
  return out;
}

/// Whether heights (greater is higher) let no layer pass through another.
bool physical(const std::vector<Look>& all, const std::function<bool(int, int)>& above) {
  const auto between = [&](int x, int f, int g) { return above(x, f) != above(x, g); };
  for (const Look& l : all) {
    for (const int x : l.through) {
      if (between(x, l.f, l.g)) return false;
    }
    for (const auto& [a, b] : l.nested) {
      if (a != l.f && a != l.g && b != l.f && b != l.g && between(a, l.f, l.g) != between(b, l.f, l.g)) return false;
    }
  }
  return true;
}

const ProofOptions by_search{.simple_folds = false};

/// States of a pattern in which a single stacking order can be given to all faces, by trying all of them.
std::size_t states_by_trial(const PatternProof& proof) {
  const auto all = looks(proof.pattern, *proof.graph, *proof.form);
  std::vector<int> height(proof.graph->faces.size());
  std::iota(height.begin(), height.end(), 0);
  std::set<std::vector<bool>> states;
  do {
    const auto above = [&](int a, int b) { return height[at(a)] > height[at(b)]; };
    if (!physical(all, above)) continue;
    bool directions = true;
    for (std::size_t e = 0; e < proof.pattern.edges.size(); ++e) {
      const auto kind = proof.pattern.edges[e].kind;
      if (kind != EdgeKind::mountain && kind != EdgeKind::valley) continue;
      const auto [f, g] = proof.graph->sides[e];
      // Seen from the coloured side a valley brings the other face over this one.
      const bool over = above(g, f) != (proof.form->flipped[at(f)] != 0);
      directions = directions && over == (kind == EdgeKind::valley);
    }
    if (!directions) continue;
    std::vector<bool> state;
    for (std::size_t p = 1; p < proof.constraints->pairs.size(); ++p)
      state.push_back(above(proof.constraints->pairs[p][0], proof.constraints->pairs[p][1]));
    states.insert(state);
  } while (std::next_permutation(height.begin(), height.end()));
  return states.size();
}

std::vector<double> random_flat_sectors(std::mt19937& random, int pairs) {
  std::uniform_real_distribution<double> share(0.3, 1);
  std::vector<double> odd, even;
  for (auto* list : {&odd, &even}) {
    double sum = 0;
    for (int i = 0; i < pairs; ++i) sum += list->emplace_back(share(random));
    for (double& a : *list) a *= 180 / sum;
  }
  std::vector<double> out;
  for (std::size_t i = 0; i < odd.size(); ++i) {
    out.push_back(odd[i]);
    out.push_back(even[i]);
  }
  return out;
}

} // namespace

class LayersTest : public QObject {
  Q_OBJECT

private slots:
  void counts_data() {
    QTest::addColumn<int>("columns");
    QTest::addColumn<int>("rows");
    QTest::addColumn<QString>("states");
    const auto list = uc::testing::cases("map_counts.json");
    for (const auto& j : list)
      QTest::addRow("%dx%d", j[0].get<int>(), j[1].get<int>())
          << j[0].get<int>() << j[1].get<int>() << QString::fromStdString(j[2].get<std::string>());
  }
  void counts() {
    QFETCH(int, columns);
    QFETCH(int, rows);
    QFETCH(QString, states);
    const auto proof = proved(healed(uc::testing::map_pattern(columns, rows)), by_search);
    QVERIFY(proof && proof->folds_flat());
    QCOMPARE(QString::fromStdString(*counted_states(*proof->constraints)), states);
  }

  /// Pleats so far apart that their layers never meet fold independently of each other.
  void counts_of_parts_multiply() {
    const auto states = [](const CreasePattern& p) {
      const auto proof = proved(healed(p), by_search);
      return std::stoll(*counted_states(*proof->constraints));
    };
    for (const std::vector<double>& pleat : {std::vector<double>{40, 50}, {40, 50, 58, 66}, {40, 55, 62, 75}}) {
      const long long one = states(uc::testing::strip_pattern(400, pleat));
      QVERIFY(one > 1);
      std::vector<double> more = pleat;
      long long expected = one;
      for (const double shift : {120.0, 240.0}) {
        for (const double x : pleat) more.push_back(x + shift);
        expected *= one;
        QCOMPARE(states(uc::testing::strip_pattern(400, more)), expected);
      }
    }
  }

  void components_are_solved_once_and_remembered() {
    const std::vector<double> pleat{40, 55, 62, 75};
    LayerCache cache;
    const auto prove = [&](const std::vector<double>& creases) {
      return proved(healed(uc::testing::strip_pattern(520, creases)), {.cache = &cache, .simple_folds = false}).value();
    };
    std::vector<double> creases = pleat;
    const auto first = prove(creases);
    QVERIFY(first.folds_flat() && first.order.components >= 1);
    QCOMPARE(first.order.reused, 0);
    for (const double x : pleat) creases.push_back(x + 120);
    const auto second = prove(creases);
    // The pleat that was there is known, and the new one reads the same.
    QCOMPARE(second.order.components, 2 * first.order.components);
    QCOMPARE(second.order.reused, second.order.components);
    // Another kind of pleat further on has to be solved; the others need not be again.
    for (const double x : {300.0, 310.0, 318.0, 326.0}) creases.push_back(x);
    const auto third = prove(creases);
    QVERIFY(third.folds_flat());
    QCOMPARE(third.order.reused, second.order.components);
    QVERIFY(third.order.components > third.order.reused);
    // What was remembered is an order: looked at cell by cell.
    for (const auto* proof : {&first, &second, &third}) {
      for (const FoldedCell& cell : proof->overlap->cells) {
        const auto layers = proof->layers_of(cell);
        for (std::size_t i = 0; i < layers.size(); ++i) {
          for (std::size_t k = i + 1; k < layers.size(); ++k) QVERIFY(proof->above(layers[i], layers[k]));
        }
      }
      for (const auto& [a, b] : proof->constraints->equal) {
        const auto is = [&](Literal l) { return (proof->order.first_above[at(std::abs(l))] != 0) == (l > 0); };
        QCOMPARE(is(a), is(b));
      }
      for (const auto& e : proof->constraints->even) {
        int n = 0;
        for (const Literal l : e) n += (proof->order.first_above[at(std::abs(l))] != 0) == (l > 0);
        QCOMPARE(n % 2, 0);
      }
    }
  }

  void small_patterns_agree_with_trial() {
    std::mt19937 random(5);
    for (int round = 0; round < 12; ++round) {
      const int pairs = round % 3 == 0 ? 2 : 3;
      const auto sectors = random_flat_sectors(random, pairs);
      const std::string free(at(2 * pairs), 'U');
      const auto proof = proved(healed(uc::testing::vertex_pattern(sectors, free)), by_search);
      QVERIFY(proof && proof->folds_flat());
      QCOMPARE(*counted_states(*proof->constraints), std::to_string(states_by_trial(*proof)));
    }
  }

  void directions_agree_with_trial() {
    std::mt19937 random(6);
    int found = 0;
    int impossible = 0;
    for (int round = 0; round < 60; ++round) {
      const auto sectors = random_flat_sectors(random, 3);
      std::string kinds = "MMMMVV";
      std::shuffle(kinds.begin(), kinds.end(), random);
      const auto proof = proved(healed(uc::testing::vertex_pattern(sectors, kinds)), by_search);
      if (!proof->locally_flat()) continue;
      const std::size_t states = states_by_trial(*proof);
      QCOMPARE(proof->status == LayerStatus::found, states > 0);
      QCOMPARE(*counted_states(*proof->constraints), std::to_string(states));
      ++(states > 0 ? found : impossible);
    }
    QVERIFY(found > 5);
    // Sectors and directions that pass every local rule and cannot fold are rare; these are known.
    const auto known = proved(healed(uc::testing::vertex_pattern({90, 80, 50, 45, 40, 55}, "VMMMVM")));
    QVERIFY(known->locally_flat());
    impossible += states_by_trial(*known) == 0 && known->status == LayerStatus::impossible;
    QVERIFY(impossible >= 1);
  }

  void orders_hold_along_every_crease() {
    for (const CreasePattern& p :
         {uc::testing::chevron_pattern(6, 5), uc::testing::chevron_pattern(5, 6, 40, false),
          uc::testing::twist_pattern(3), uc::testing::twist_pattern(2, 0.6, 40), uc::testing::map_pattern(3, 3)}) {
      const auto proof = proved(healed(p));
      QVERIFY(proof);
      QVERIFY(proof->folds_flat());
      QVERIFY(physical(looks(proof->pattern, *proof->graph, *proof->form),
                       [&](int a, int b) { return proof->above(FaceId(a), FaceId(b)); }));
      for (const FoldedCell& c : proof->overlap->cells) {
        const auto layers = proof->layers_of(c);
        for (std::size_t i = 1; i < layers.size(); ++i) QVERIFY(proof->above(layers[i - 1], layers[i]));
      }
    }
  }

  void chevron_folds_to_its_known_size() {
    // Columns stack to a strip 10 wide. Its rows are folded to and fro on parallel creases that meet its sides at the
    // lean: across them nothing is wider than one row, 10 sin(lean); along them each row adds 10 cos(lean).
    const double deg = 60;
    const double lean = deg * std::numbers::pi / 180;
    const int rows = 8;
    const auto proof = proved(healed(uc::testing::chevron_pattern(4, rows, deg)));
    QVERIFY(proof && proof->folds_flat());
    const Point along{std::sin(lean), std::cos(lean)};
    const Point across{-along.y(), along.x()};
    std::vector<Point> seen;
    for (const Point& p : proof->form->vertices) seen.emplace_back(along.dot(p), across.dot(p));
    const Point size = bounding_box(seen).size();
    QVERIFY2(std::abs(size.x() - (10 / std::sin(lean) + rows * 10 * std::cos(lean))) < 1e-9,
             qPrintable(QString::number(size.x())));
    QVERIFY2(std::abs(size.y() - 10 * std::sin(lean)) < 1e-9, qPrintable(QString::number(size.y())));
    QCOMPARE(proof->overlap->layers_max % 4, 0); // whole columns lie over one another
    double covered = 0;                          // layers times area is the area of the sheet
    for (const FoldedCell& c : proof->overlap->cells) covered += c.area * static_cast<double>(c.faces.size());
    QVERIFY(std::abs(covered - 4 * 8 * 100.0) < 1e-6);
  }

  void a_clash_is_minimal() {
    const auto whole = proved(healed(uc::testing::vertex_pattern({90, 80, 50, 45, 40, 55}, "VMMMVM")));
    QVERIFY(whole);
    QCOMPARE(whole->status, LayerStatus::impossible);
    QVERIFY(whole->clash.size() >= 3);
    const auto fits = [&](const std::vector<FaceId>& faces) {
      // By trial: orders of these faces alone under the constraints among them.
      std::vector<FaceId> order = faces;
      std::sort(order.begin(), order.end());
      do {
        const auto place = [&](FaceId f) { return std::find(order.begin(), order.end(), f) - order.begin(); };
        const auto in = [&](Literal l) {
          const auto& [a, b] = whole->constraints->pairs[at(std::abs(l))];
          return place(a) < static_cast<long>(order.size()) && place(b) < static_cast<long>(order.size());
        };
        const auto is = [&](Literal l) {
          const auto& [a, b] = whole->constraints->pairs[at(std::abs(l))];
          return (place(a) < place(b)) == (l > 0);
        };
        bool good = true;
        for (const auto& f : whole->constraints->fixed) good = good && (!in(f.literal) || is(f.literal));
        for (const auto& [a, b] : whole->constraints->equal) good = good && (!in(a) || !in(b) || is(a) == is(b));
        for (const auto& e : whole->constraints->even) {
          if (!std::all_of(e.begin(), e.end(), in)) continue;
          good = good && std::count_if(e.begin(), e.end(), is) % 2 == 0;
        }
        if (good) return true;
      } while (std::next_permutation(order.begin(), order.end()));
      return false;
    };
    QVERIFY(!fits(whole->clash));
    for (const FaceId left_out : whole->clash) {
      std::vector<FaceId> rest = whole->clash;
      std::erase(rest, left_out);
      QVERIFY(fits(rest));
    }
  }

  void directions_are_found_and_kept() {
    CreasePattern p = uc::testing::chevron_pattern(5, 5, 60, false);
    std::vector<std::size_t> creases;
    for (std::size_t e = 0; e < p.edges.size(); ++e) {
      if (p.edges[e].kind != EdgeKind::undirected) continue;
      if (creases.empty()) p.edges[e].kind = EdgeKind::mountain;
      creases.push_back(e);
    }
    const auto d = directed(healed(p));
    QVERIFY(d && d->pattern);
    QCOMPARE(d->pattern->edges[creases[0]].kind, EdgeKind::mountain);
    for (const auto& e : d->pattern->edges) QVERIFY(e.kind != EdgeKind::undirected);
    const auto proof = proved(healed(*d->pattern));
    QVERIFY(proof->folds_flat());
  }

  static int broken(const Directed& d, DirectionWish wish) {
    const auto proof = proved(healed(*d.pattern), by_search);
    if (!proof->folds_flat()) return -1;
    int n = 0;
    for (const DirectionPair& p : wished_pairs(wish, proof->pattern, *proof->graph, *proof->constraints)) {
      const auto is = [&](Literal l) { return (proof->order.first_above[at(std::abs(l))] != 0) == (l > 0); };
      n += (is(p.first) == is(p.second)) != p.same;
    }
    return n;
  }

  void no_directions_keep_more_of_a_wish() {
    for (const auto& [columns, rows] : {std::pair{2, 2}, {3, 2}}) {
      const CreasePattern map = uc::testing::map_pattern(columns, rows);
      std::vector<std::size_t> creases;
      for (std::size_t e = 0; e < map.edges.size(); ++e) {
        if (map.edges[e].kind == EdgeKind::undirected) creases.push_back(e);
      }
      for (const DirectionWish wish : {DirectionWish::alternating, DirectionWish::few_changes}) {
        int least = 1000;
        for (unsigned mask = 0; mask < 1U << creases.size(); ++mask) {
          Directed d;
          d.pattern = map;
          for (std::size_t i = 0; i < creases.size(); ++i)
            d.pattern->edges[creases[i]].kind = mask >> i & 1 ? EdgeKind::mountain : EdgeKind::valley;
          const int n = broken(d, wish);
          if (n >= 0) least = std::min(least, n);
        }
        const auto d = directed(healed(map), {}, wish);
        QVERIFY(d && d->pattern && d->most_wishes);
        QCOMPARE(broken(*d, wish), least);
      }
    }
  }

  void wishes_are_kept_where_they_can_be() {
    const HealedPattern map = healed(uc::testing::map_pattern(4, 3));
    for (const DirectionWish wish :
         {DirectionWish::alternating, DirectionWish::few_changes, DirectionWish::symmetric}) {
      const auto d = directed(map, {}, wish);
      QVERIFY(d && d->pattern);
      const auto any = directed(map);
      const int kept = broken(*d, wish);
      QVERIFY(kept >= 0);
      QVERIFY(kept <= broken(*any, wish));
      if (wish == DirectionWish::symmetric) QCOMPARE(kept, 0);
    }
    // A strip folds wholly to and fro.
    const auto strip = directed(healed(uc::testing::map_pattern(7, 1)), {}, DirectionWish::alternating);
    QCOMPARE(broken(*strip, DirectionWish::alternating), 0);
    // Folding a map needs changes: a whole line of each family keeps its direction at best.
    QVERIFY(broken(*directed(map, {}, DirectionWish::few_changes), DirectionWish::few_changes) > 0);
    const auto none =
        directed(healed(uc::testing::vertex_pattern({90, 80, 50, 45, 40, 55}, "UUUUUU")), {}, DirectionWish::symmetric);
    QVERIFY(none && none->no_symmetry);
  }

  void directions_that_do_not_go_together_are_named() {
    const auto d = directed(healed(uc::testing::vertex_pattern({90, 80, 50, 45, 40, 55}, "VMMMVM")));
    QVERIFY(d);
    QVERIFY(!d->pattern);
    QVERIFY(!d->contradiction.empty());
    // Leaving any one of them open gives an order.
    for (const int e : d->contradiction) {
      CreasePattern p = uc::testing::vertex_pattern({90, 80, 50, 45, 40, 55}, "UUUUUU");
      const CreasePattern full = uc::testing::vertex_pattern({90, 80, 50, 45, 40, 55}, "VMMMVM");
      for (const int k : d->contradiction) {
        if (k != e) p.edges[at(k)].kind = full.edges[at(k)].kind;
      }
      QVERIFY(directed(healed(p))->pattern);
    }
  }

  void least_hitting_sets_are_least() {
    std::mt19937 random(3);
    for (int round = 0; round < 200; ++round) {
      std::vector<std::vector<int>> sets(1 + random() % 7);
      for (auto& set : sets) {
        for (int i = 0; i < 8; ++i) {
          if (random() % 3 == 0) set.push_back(i);
        }
        if (set.empty()) set.push_back(static_cast<int>(random() % 8));
      }
      int least = 99;
      for (unsigned mask = 0; mask < 256; ++mask) {
        const bool all = std::all_of(sets.begin(), sets.end(), [&](const auto& set) {
          return std::any_of(set.begin(), set.end(), [&](int i) { return mask >> i & 1; });
        });
        if (all) least = std::min(least, __builtin_popcount(mask));
      }
      const auto found = least_hitting_set(sets, 8);
      QVERIFY(found);
      QCOMPARE(static_cast<int>(found->size()), least);
      QVERIFY(!least_hitting_set(sets, static_cast<std::size_t>(least) - 1));
    }
  }

  /// Directed vertices that cannot fold: the set named is compared with trial of all sets of directions.
  void contradictions_are_as_small_as_can_be() {
    std::mt19937 random(17);
    int tried = 0;
    for (int round = 0; round < 400 && tried < 12; ++round) {
      std::string kinds(6, 'M');
      for (char& k : kinds) k = random() % 2 ? 'M' : 'V';
      const std::vector<double> sectors{90, 80, 50, 45, 40, 55};
      const CreasePattern full = uc::testing::vertex_pattern(sectors, kinds);
      const auto d = directed(healed(full));
      if (d->pattern || d->contradiction.empty()) continue;
      ++tried;
      QVERIFY(d->contradiction_smallest);
      std::size_t least = 99;
      for (unsigned mask = 1; mask < 64; ++mask) {
        std::string some = kinds;
        for (std::size_t i = 0; i < 6; ++i) {
          if (!(mask >> i & 1)) some[i] = 'U';
        }
        const auto open = directed(healed(uc::testing::vertex_pattern(sectors, some)));
        if (!open->pattern) least = std::min<std::size_t>(least, static_cast<std::size_t>(__builtin_popcount(mask)));
      }
      QCOMPARE(d->contradiction.size(), least);
    }
    QVERIFY(tried > 0);
  }

  void time_and_cancel_end_the_search() {
    Progress progress;
    progress.cancel();
    const auto proof = proved(healed(uc::testing::map_pattern(4, 4)), {true, 60, &progress});
    QVERIFY(proof);
    QCOMPARE(proof->status, LayerStatus::out_of_time);
    const auto whole = proved(healed(uc::testing::map_pattern(4, 4)), by_search);
    QVERIFY(!counted_states(*whole->constraints, {60, &progress}));
  }

  void pieces_and_bare_lines_are_refused() {
    CreasePattern two = uc::testing::map_pattern(1, 1);
    const CreasePattern more = uc::testing::map_pattern(1, 1);
    for (const Point& v : more.vertices) two.vertices.push_back(v + Point{50, 0});
    for (const auto& e : more.edges) two.edges.push_back({e.from + 4, e.to + 4, e.kind});
    const auto apart = proved(healed(two));
    QVERIFY(!apart);
    QVERIFY(QString::fromStdString(apart.error()).contains("separate pieces"));
    CreasePattern line;
    line.vertices = {Point{0, 0}, Point{10, 0}};
    line.edges = {{0, 1, EdgeKind::valley}};
    QVERIFY(!proved(healed(line)));
    QVERIFY(!proved(healed(CreasePattern{})));
  }
};

UC_TEST(LayersTest)
#include "layers_test.moc"
