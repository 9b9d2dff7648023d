// Programmes as data: golden sentences for whole jobs, states after every move, figures, and JSON that loses nothing.
#include "runner.h"
#include "support.h"

#include "divide/division.h"
#include "io/handout.h"
#include "io/json_reader.h"
#include "io/project_file.h"
#include "programme/figure.h"
#include "programme/form_before.h"
#include "programme/text.h"
#include "project/piece.h"

#include <numbers>
#include <random>
#include <set>
#include <sstream>

using namespace uc;
using uc::testing::near;

namespace {

GridSpec random_spec(std::mt19937& random) {
  const auto below = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n)); };
  GridSpec spec;
  spec.parts = 2 + below(22);
  spec.axis = static_cast<GridAxis>(below(5));
  spec.method = static_cast<Method>(below(5));
  spec.direction = static_cast<DirectionRule>(below(3));
  spec.extent = static_cast<ExtentRule>(below(3));
  spec.inset = spec.parts > 4 ? 1 + below((spec.parts - 1) / 2) : 1;
  if (2 * spec.inset >= spec.parts) spec.extent = ExtentRule::full;
  for (int k = 1; k < spec.parts; ++k) {
    if (below(6) == 0) spec.left_out.push_back(k);
  }
  spec.pinches_allowed = below(3) != 0;
  if (below(3) == 0)
    spec.keep_clean.push_back({{20.0 + below(40), 20.0 + below(40)}, {80.0 + below(40), 90.0 + below(40)}});
  if (below(4) == 0) spec.start = StartMark{1 + below(spec.parts - 1), 0.05 * below(20)};
  return spec;
}

const char* const sheets[] = {"square:240mm", "a4", "strip:300x40mm", "ngon:6:100mm", "ngon:3:180mm", "ngon:5:110mm"};

} // namespace

class ProgrammeTest : public QObject {
  Q_OBJECT
private slots:
  void whole_jobs_read_as_written_down_data() {
    QTest::addColumn<QString>("json");
    for (const Json& c : testing::cases("golden_jobs.json"))
      QTest::newRow(c["name"].get<std::string>().c_str()) << QString::fromStdString(c.dump());
  }
  void whole_jobs_read_as_written_down() {
    const Json c = testing::row();
    const auto d = divide(parse_sheet(c["sheet"].get<std::string>()).value(), grid_spec_from(JsonReader(c["grid"])),
                          HandProfile{});
    QVERIFY2(d.ok(), d ? "" : d.error().c_str());
    std::vector<std::string> lines;
    const ProgrammeTeller teller(d->programme);
    for (std::size_t i = 0; i < d->programme.moves.size(); ++i) lines.push_back(teller.text(i));
    const auto want = c["moves"].get<std::vector<std::string>>();
    for (std::size_t i = 0; i < std::min(lines.size(), want.size()); ++i) QCOMPARE(lines[i], want[i]);
    QCOMPARE(lines.size(), want.size());
  }

  void any_wish_gives_a_sound_programme() {
    std::mt19937 random(77);
    for (int n = 0; n < 400; ++n) {
      const GridSpec spec = random_spec(random);
      const Sheet sheet = parse_sheet(sheets[n % 6]).value();
      if (!check_spec(spec, HandProfile{})) continue;
      const auto d = divide(sheet, spec, HandProfile{});
      QVERIFY2(d.ok(), d ? "" : d.error().c_str());
      const Box box = bounding_box(sheet.outline());
      std::vector<ElementId> made;
      for (const Element& e : d->programme.elements) {
        if (e.existing || e.role != Role::crease) made.push_back(e.id);
      }
      for (const Move& m : d->programme.moves) {
        for (const auto* ids : {&m.aligned.moving, &m.aligned.onto}) {
          for (const ElementId id : *ids) QVERIFY(std::find(made.begin(), made.end(), id) != made.end());
        }
        if (m.creases().makes) made.push_back(*m.creases().makes);
        for (const Segment& s : m.creases().spans) {
          for (const Point& p : {s.from, s.to}) {
            QVERIFY(p.x() > box.low.x() - 1e-6 && p.x() < box.high.x() + 1e-6 && p.y() > box.low.y() - 1e-6 &&
                    p.y() < box.high.y() + 1e-6);
          }
        }
        QVERIFY(std::isfinite(m.sigma_mm) && m.seconds >= 0);
      }
      // Every wanted line is creased in the end, or named as missing.
      const SheetState end = state_after(d->programme, static_cast<int>(d->programme.moves.size()));
      for (std::size_t f = 0; f < d->plans.size(); ++f) {
        for (int k = 1; k < spec.parts; ++k) {
          const auto& out = d->plans[f].task.left_out;
          const bool wanted = std::find(out.begin(), out.end(), k) == out.end();
          const bool missing = std::any_of(d->plans[f].missing.begin(), d->plans[f].missing.end(),
                                           [&](const MissingLine& m) { return m.line == k; });
          const bool creased = std::any_of(end.creases.begin(), end.creases.end(), [&](const auto& c) {
            return c.element == line_element_id(f, k) && !c.pinch;
          });
          if (wanted && !(spec.start && spec.start->line == k))
            QVERIFY2(creased != missing, qPrintable(QString("case %1 family %2 line %3 creased %4 missing %5 of %6")
                                                        .arg(n)
                                                        .arg(f)
                                                        .arg(k)
                                                        .arg(creased)
                                                        .arg(missing)
                                                        .arg(QString::fromStdString(json_of(spec).dump()))));
          if (!wanted && !(spec.start && spec.start->line == k)) QVERIFY(!creased);
        }
      }
    }
  }

  void json_loses_nothing() {
    std::mt19937 random(78);
    for (int n = 0; n < 100; ++n) {
      const GridSpec spec = random_spec(random);
      QVERIFY(grid_spec_from(JsonReader(testing::parsed(json_of(spec).dump()))) == spec);
      if (!check_spec(spec, HandProfile{})) continue;
      const auto d = divide(parse_sheet(sheets[n % 6]).value(), spec, HandProfile{});
      const Json j = json_of(d->programme);
      const auto again = parse_programme(j.dump(), "x");
      QVERIFY(again.ok());
      QVERIFY(json_of(*again) == j);
      // Nor does the writing leave anything out.
      QCOMPARE(again->elements.size(), d->programme.elements.size());
      for (std::size_t i = 0; i < again->elements.size(); ++i) {
        const Element& a = again->elements[i];
        const Element& b = d->programme.elements[i];
        QVERIFY(a.id == b.id && a.role == b.role && a.label == b.label && a.made_of == b.made_of && a.place == b.place);
        QVERIFY(a.family == b.family && a.index == b.index && a.parts == b.parts && a.by_direction == b.by_direction);
        QVERIFY(a.sigma_mm == b.sigma_mm && a.existing == b.existing && a.spans.size() == b.spans.size());
        for (std::size_t s = 0; s < a.spans.size(); ++s)
          QVERIFY(a.spans[s].from == b.spans[s].from && a.spans[s].to == b.spans[s].to);
      }
      QCOMPARE(again->moves.size(), d->programme.moves.size());
      for (std::size_t i = 0; i < again->moves.size(); ++i) {
        const Move& a = again->moves[i];
        const Move& b = d->programme.moves[i];
        QVERIFY(a.effect == b.effect && a.aligned == b.aligned);
        QVERIFY(a.caution == b.caution && a.seconds == b.seconds && a.repeat == b.repeat);
        QVERIFY((std::isfinite(b.sigma_mm) ? a.sigma_mm == b.sigma_mm : true) && a.hand_sigma_mm == b.hand_sigma_mm);
      }
      const auto plans = plans_from(JsonReader(testing::parsed(plans_json(*d).dump())));
      QCOMPARE(plans.size(), d->plans.size());
      for (std::size_t f = 0; f < plans.size(); ++f) {
        QVERIFY(plans[f].steps == d->plans[f].steps);
        const LineErrors a = replay(plans[f].task, plans[f].steps);
        for (int k = 1; k < spec.parts; ++k) {
          const double s = d->plans[f].line_sigma_mm[static_cast<std::size_t>(k)];
          if (std::isfinite(s)) QVERIFY(near(std::sqrt(a.variance(k)), s, 1e-9 * (1 + s)));
        }
      }
    }
  }

  void strange_programmes_are_refused() {
    for (const char* text :
         {"{}", "[]", "{\"sheet\":[],\"elements\":[],\"moves\":[{\"kind\":\"dance\"}]}",
          "{\"sheet\":[[1]],\"elements\":[],\"moves\":[]}", "{\"sheet\":[[0,0]],\"elements\":[{}],\"moves\":[]}",
          "{\"sheet\":[[0,1e999]],\"elements\":[],\"moves\":[]}", "nonsense"}) {
      const auto p = parse_programme(text, "log");
      QVERIFY2(!p, text);
      QVERIFY(p.error().find("log") == 0);
    }
    for (const auto& [plans, path] :
         {std::pair{
              "[{\"family\":\"x\",\"extent_mm\":1,\"parts\":999,\"sigma_mm\":1,\"guess_sigma_mm\":1,\"steps\":[]}]",
              "plans[0].parts"},
          {"[{\"family\":\"x\",\"extent_mm\":1,\"parts\":4,\"sigma_mm\":1,\"guess_sigma_mm\":1,"
           "\"steps\":[{\"kind\":\"bring\",\"a\":0,\"b\":9,\"makes\":2}]}]",
           "plans[0].steps[0].b"}}) {
      RunDetail run;
      run.plans_json = plans;
      const auto read = stored_plans(run);
      QVERIFY(!read);
      QVERIFY2(read.error().find(path) != std::string::npos, read.error().c_str());
    }
  }

  void a_teller_says_what_is_said_of_each_move_alone() {
    std::mt19937 random(404);
    int told = 0;
    for (int n = 0; n < 40; ++n) {
      GridSpec spec = random_spec(random);
      spec.start.reset();
      if (!check_spec(spec, HandProfile{})) continue;
      const auto d = divide(parse_sheet(sheets[n % 6]).value(), spec, HandProfile{});
      TextStyle style;
      style.as_it_lies = n % 3 != 0;
      const ProgrammeTeller teller(d->programme, style);
      for (std::size_t i = 0; i < d->programme.moves.size(); ++i, ++told) {
        const Move& m = d->programme.moves[i];
        QCOMPARE(teller.text(i), move_text(d->programme, i, style));
        // A programme that has been copied says the same of its own moves.
        const Programme copy = d->programme;
        QCOMPARE(ProgrammeTeller(copy, style).text(i), teller.text(i));
        // Turning over and rotating are drawn as the sheet lies then.
        if (!m.is(HandleWay::turn_over) && !m.is(HandleWay::rotate)) continue;
        const SheetState then = state_after(d->programme, static_cast<int>(i) + 1);
        const Figure f = move_figure(d->programme, static_cast<int>(i));
        QCOMPARE(f.underside_up, then.underside_up);
        const Point centre = bounding_box(d->programme.sheet).centre();
        const Point corner = d->programme.sheet.front();
        QVERIFY((f.view * corner - view_of(then, centre) * corner).norm() < 1e-9);
      }
    }
    QVERIFY(told > 500);
  }

  void every_figure_shows_its_move() {
    std::mt19937 random(79);
    for (int n = 0; n < 60; ++n) {
      GridSpec spec = random_spec(random);
      spec.start.reset();
      if (!check_spec(spec, HandProfile{})) continue;
      const auto d = divide(parse_sheet(sheets[n % 6]).value(), spec, HandProfile{});
      for (std::size_t i = 0; i < d->programme.moves.size(); ++i) {
        const Move& m = d->programme.moves[i];
        const Figure f = move_figure(d->programme, static_cast<int>(i));
        const bool cut = d->layout.cut_first && i > 0;
        const double area = signed_area(cut ? d->layout.area : d->programme.sheet);
        QVERIFY(near(std::abs(signed_area(f.outline)), area, 1e-6));
        QCOMPARE(f.turns_over, m.is(HandleWay::turn_over));
        QVERIFY((f.turn_deg != 0) == (m.is(HandleWay::rotate)));
        const bool aligns = m.is(CreaseWay::align) || m.is(CreaseWay::through);
        if (aligns) {
          QCOMPARE(f.arrows.size(), std::size_t{1});
          // Guides are made from corners and edges, which need no name.
          const bool named = m.creases().makes->source != ElementSource::grid || !f.labels.empty();
          QVERIFY2(!f.flap.empty() && named,
                   qPrintable(QString("%1 %2 %3").arg(n).arg(i).arg(QString::fromStdString(json_of(spec).dump()))));
          // What folds over is never more than half of a sheet that looks the same from both sides.
          const bool even = cut || sheets[n % 6][0] != 'n' || sheets[n % 6][5] == '6';
          if (even && !m.is(CreaseWay::through)) QVERIFY(std::abs(signed_area(f.flap)) <= area / 2 + 1e-6);
        }
        if (m.creases().makes && !m.is(CreaseWay::both_ways)) {
          const bool shown = std::any_of(f.lines.begin(), f.lines.end(), [](const FigureLine& l) {
            return l.style == LineStyle::fresh || l.style == LineStyle::pinch;
          });
          QVERIFY(shown || m.creases().spans.empty());
        }
      }
    }
  }

  void pages_hold_all_they_are_given() {
    const auto d = divide(parse_sheet("square:240mm").value(), GridSpec{}, HandProfile{});
    PrintOptions print;
    const auto pages = handout_pages(d->programme, "Crater panel", "16 parts", print);
    std::string words;
    int drawings = 0;
    for (const Page& page : pages) {
      for (const auto& item : page.items) {
        if (const auto* t = std::get_if<PageText>(&item)) {
          words += t->text + " ";
          QVERIFY2(t->at.x() >= 0 && t->at.x() <= page.width_mm && t->at.y() <= page.height_mm - 5, t->text.c_str());
        } else if (std::get<PagePath>(item).closed && std::get<PagePath>(item).fill.size() == 7 &&
                   std::get<PagePath>(item).points.size() == 4 && std::get<PagePath>(item).opacity == 1) {
          ++drawings;
        }
      }
    }
    QVERIFY(drawings >= static_cast<int>(d->programme.moves.size()));
    for (std::size_t i = 1; i <= d->programme.moves.size(); ++i)
      QVERIFY(words.find(" " + std::to_string(i) + " ") != std::string::npos || i == 1);
    QVERIFY(words.find("Crater panel") != std::string::npos);
  }

  void a_both_ways_grid_swings_every_crease() {
    GridSpec spec;
    spec.parts = 5;
    spec.axis = GridAxis::x;
    spec.direction = DirectionRule::both_ways;
    const auto d = divide(parse_sheet("square:100mm").value(), spec, HandProfile{});
    QCOMPARE(d->programme.count(CreaseWay::both_ways), 4);
    QCOMPARE(d->turn_overs, 1);
    QVERIFY(move_text(d->programme, d->programme.moves.size() - 1).find("the other way too") != std::string::npos);
  }

  void ids_are_written_and_read_as_words() {
    QCOMPARE(text_of({ElementSource::grid, 0, 3}), std::string("grid.0.3"));
    for (const auto& [source, word] : enum_words<ElementSource>) {
      if (source == ElementSource::none) continue;
      const ElementId id{source, 7, 123456};
      QVERIFY(element_id(text_of(id)) == id);
    }
    QVERIFY(element_id("none") == ElementId{});
    for (const char* wrong : {"", "grid", "grid.0", "grid.0.x", "grid.-1.2", "grid.0.3.4", "none.0.1", "field.0.1",
                              "grid.0.99999999999", "grid..3", " grid.0.3"})
      QVERIFY2(!element_id(wrong), wrong);
    // As they were numbered before: lines from 1 in thousands, references in hundreds of thousands, and so on.
    QVERIFY(element_id_of_number(4) == (ElementId{ElementSource::grid, 0, 3}));
    QVERIFY(element_id_of_number(2001) == (ElementId{ElementSource::grid, 2, 0}));
    QVERIFY(element_id_of_number(300'012) == (ElementId{ElementSource::reference, 2, 12}));
    QVERIFY(element_id_of_number(50'000'004) == (ElementId{ElementSource::pattern, 0, 4}));
    QVERIFY(element_id_of_number(50'100'007) == (ElementId{ElementSource::pattern, 1, 7}));
    QVERIFY(element_id_of_number(51'000'009) == (ElementId{ElementSource::pattern, 2, 9}));
    QVERIFY(element_id_of_number(100'100'005) == (ElementId{ElementSource::start, 0, 5}));
    QVERIFY(element_id_of_number(0) == ElementId{} && !element_id_of_number(-1));
  }

  void references_keep_their_ids_apart_however_many_there_are() {
    Project p;
    p.sheet_name = "square:240mm";
    for (int i = 0; i < 600; ++i) p.references.push_back({"r", "", "c1 = O3 left right\nresult c1\n", false});
    const auto division = division_of(p);
    std::set<ElementId> ids;
    const Programme all = planned_moves(p, *division, nullptr).programme;
    QVERIFY(all.elements.size() > 600);
    for (const Element& e : all.elements) QVERIFY2(ids.insert(e.id).second, text_of(e.id).c_str());
    const auto back = parse_programme(json_of(all).dump(), "test");
    QVERIFY2(back.ok(), back ? "" : back.error().c_str());
    QVERIFY(json_of(*back) == json_of(all));
  }

  void everything_with_a_place_moves_with_a_cut_piece() {
    Programme p;
    p.sheet = {{0, 0}, {10, 0}, {10, 10}, {0, 10}};
    const auto add = [&](Effect effect) {
      Move move;
      move.effect = std::move(effect);
      p.moves.push_back(std::move(move));
    };
    add(Work{WorkWay::clip, 0, std::array{2.0, 3.0}});
    add(Work{WorkWay::form, 0, std::array{4.0, 1.0}}); // a twist
    add(Work{WorkWay::wait, 5, std::nullopt});
    Cut cut;
    cut.along = {{{0, 0}, {10, 0}}};
    add(cut);
    Refold fold;
    fold.creases.spans = {{{0, 5}, {10, 5}}};
    add(fold);
    MakeCreases made;
    made.spans = {{{1, 0}, {1, 10}}};
    add(made);
    // A quarter turn to the left about (50, 50): (x, y) comes to (100 - y, x).
    const auto by_hand = [](double x, double y) { return Point(100 - y, x); };
    const Isometry place = Isometry::rotation_about({50, 50}, std::numbers::pi / 2);
    QVERIFY((place * Point(2, 3) - by_hand(2, 3)).norm() < 1e-9);
    const Programme moved = placed(p, place);
    const auto at = [&](std::size_t i) { return std::get<Work>(moved.moves[i].effect).place_mm; };
    QVERIFY(near((*at(0))[0], 97, 1e-9) && near((*at(0))[1], 2, 1e-9));
    QVERIFY(near((*at(1))[0], 99, 1e-9) && near((*at(1))[1], 4, 1e-9));
    QVERIFY(!at(2));
    QVERIFY((std::get<Cut>(moved.moves[3].effect).along[0].to - by_hand(10, 0)).norm() < 1e-9);
    QVERIFY((std::get<Refold>(moved.moves[4].effect).creases.spans[0].from - by_hand(0, 5)).norm() < 1e-9);
    QVERIFY((std::get<MakeCreases>(moved.moves[5].effect).spans[0].to - by_hand(1, 10)).norm() < 1e-9);
  }

  /// The state of a flat sheet at every move: faces between the creases made so far, nothing lost, nothing in layers.
  void a_flat_sheet_has_a_state_before_every_move() {
    std::mt19937 random(77);
    for (int round = 0; round < 24; ++round) {
      const auto sheet = parse_sheet(sheets[static_cast<std::size_t>(round) % std::size(sheets)]).value();
      const auto d = divide(sheet, random_spec(random), HandProfile{});
      if (!d) continue;
      const Programme& p = d->programme;
      std::size_t faces = 1;
      for (std::size_t i = 0; i <= p.moves.size(); ++i) {
        const auto form = form_before(p, i);
        QVERIFY2(form.ok(), form ? "" : form.error().c_str());
        QCOMPARE(form->pieces.size(), std::size_t{1});
        const PieceForm& piece = *form->pieces.front();
        double area = 0;
        for (const GraphFace& face : piece.graph.faces) {
          area += signed_area(outline_of(piece.pattern, face));
          for (const auto& hole : face.holes) { // walked clockwise
            Polygon inner;
            for (const int v : hole) inner.push_back(piece.pattern.vertices[static_cast<std::size_t>(v)]);
            area += signed_area(inner);
          }
        }
        QVERIFY(near(area, signed_area(outline_before(p, i)), 1e-6 * area));
        QVERIFY(piece.graph.faces.size() >= faces || (i > 0 && p.moves[i - 1].is<Cut>()));
        faces = piece.graph.faces.size();
        QCOMPARE(piece.overlap.layers_max, 1);
        const SheetState state = state_after(p, static_cast<int>(i));
        QVERIFY(form->underside_up == state.underside_up && form->turned_deg == state.turned_deg);
        // What bounds faces and what is only marked together are the creases of that moment.
        double shown = 0;
        for (std::size_t e = 0; e < piece.pattern.edges.size(); ++e) {
          QVERIFY(!folds(piece.pattern.edges[e].kind));
          if (piece.line_of[e] >= 0) shown += piece.pattern.segment(CreaseId(e)).length();
        }
        for (const Segment& mark : piece.marks) shown += mark.length();
        double made = 0;
        const bool cut = i > 0 && p.moves.front().is<Cut>();
        for (const auto& crease : state.creases) {
          for (const Segment& s : crease.all()) made += s.length();
        }
        if (!cut) QVERIFY2(near(shown, made, 1e-6 * (1 + made)), QByteArray::number(made - shown));
      }
    }
  }
  void the_last_state_of_a_grid_has_all_its_cells() {
    struct Row {
      const char* sheet;
      GridAxis axis;
      int parts;
      std::size_t faces; // counted by hand
    };
    for (const Row& row : {Row{"square:240mm", GridAxis::x, 7, 7},
                           {"a4", GridAxis::both, 12, 144},
                           {"ngon:6:100mm", GridAxis::x, 5, 10}}) {
      GridSpec spec;
      spec.axis = row.axis;
      spec.parts = row.parts;
      spec.pinches_allowed = false;
      const auto d = divide(parse_sheet(row.sheet).value(), spec, HandProfile{});
      QVERIFY(d.ok());
      const auto form = form_before(d->programme, d->programme.moves.size());
      QVERIFY(form.ok());
      QCOMPARE(form->pieces.front()->graph.faces.size(), row.faces);
    }
  }
  void a_crease_inside_the_paper_bounds_nothing() {
    Programme p;
    p.sheet = parse_sheet("square:100mm")->outline();
    const std::pair<Segment, std::size_t> creases[] = {
        {{{20, 50}, {80, 50}}, 1},  // ends inside
        {{{50, 0}, {50, 100}}, 2},  // from edge to edge, across the first
        {{{80, 0}, {80, 100}}, 4},  // where the first one ends: its middle part bounds two faces now
        {{{-20, 20}, {120, 20}}, 7} // beyond the sheet
    };
    for (std::size_t i = 0; i < std::size(creases); ++i) {
      Element e;
      e.id = {ElementSource::pattern, 1, static_cast<int>(i)};
      p.elements.push_back(e);
      MakeCreases made;
      made.makes = e.id;
      made.spans = {creases[i].first};
      Move m;
      m.effect = made;
      p.moves.push_back(m);
      const auto form = form_before(p, i + 1);
      QVERIFY(form.ok());
      QCOMPARE(form->pieces.front()->graph.faces.size(), creases[i].second);
    }
    const auto form = form_before(p, 4);
    QCOMPARE(form->pieces.front()->marks.size(), std::size_t{1});
    QVERIFY(near(form->pieces.front()->marks[0].length(), 30, 1e-9)); // from 20 to the upright crease at 50
    // A pinch bounds nothing, and what is cut off is gone.
    std::get<MakeCreases>(p.moves[1].effect).extent = Extent::pinch;
    p.moves.push_back(Move::cutting({{0, 0}, {50, 0}, {50, 100}, {0, 100}}, 1));
    const auto left = form_before(p, 5);
    QVERIFY(left.ok());
    QCOMPARE(left->pieces.front()->graph.faces.size(), std::size_t{2});
  }

  /// A partial crease needs the creases it ends at.
  void what_a_crease_ends_at_comes_before_it() {
    Programme p;
    p.sheet = parse_sheet("square:100mm")->outline();
    for (int i = 0; i < 4; ++i) {
      Element e;
      e.id = {ElementSource::pattern, 1, i};
      p.elements.push_back(e);
    }
    for (int i = 0; i < 3; ++i) {
      Move m;
      MakeCreases made;
      made.makes = p.elements[static_cast<std::size_t>(i)].id;
      if (i == 2) {
        made.extent = Extent::between;
        made.ends = {p.elements[0].id, ElementId{}};
      }
      m.effect = made;
      p.moves.push_back(m);
    }
    QVERIFY(may_reorder(p, 2, 1) && may_reorder(p, 1, 0));
    QVERIFY(!may_reorder(p, 2, 0) && !may_reorder(p, 0, 2));
  }
};

UC_TEST(ProgrammeTest)
#include "programme_test.moc"
