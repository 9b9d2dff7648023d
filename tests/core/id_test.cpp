// Numbers of vertices, faces, creases and units: what may be taken for what, checked when this is compiled, and how
// they behave as values.
#include "runner.h"

#include "base/index.h"
#include "form/crease_pattern.h"

#include <nlohmann/json.hpp>

#include <QtTest>

#include <set>
#include <type_traits>
#include <unordered_set>

using namespace uc;

namespace {

template <class From, class To> constexpr bool given = std::is_convertible_v<From, To>;
template <class Of, class From> constexpr bool named = std::is_constructible_v<Of, From>;
template <class A, class B>
concept compares = requires(A a, B b) {
  a == b;
};
template <class V>
concept is_vertex_of = requires(const PatternEdge& e, V v) {
  e.other(v);
};
template <class C>
concept is_crease_of = requires(const CreasePattern& p, C c) {
  p.segment(c);
};

// A number becomes an id only by name; no id becomes one of another kind, by name or without.
static_assert(!given<int, VertexId> && named<VertexId, int> && named<VertexId, std::size_t>);
static_assert(!given<FaceId, VertexId> && !named<VertexId, FaceId> && !named<UnitId, CreaseId>);
static_assert(!std::is_assignable_v<FaceId&, int> && !std::is_assignable_v<FaceId&, VertexId>);
static_assert(compares<FaceId, FaceId> && compares<FaceId, int> && !compares<FaceId, VertexId>);
// An id is a number wherever one is asked for.
static_assert(given<UnitId, int> && sizeof(UnitId) == sizeof(int) && std::is_trivially_copyable_v<UnitId>);
// What asks for one takes no other.
static_assert(is_vertex_of<VertexId> && !is_vertex_of<FaceId> && !is_vertex_of<int>);
static_assert(is_crease_of<CreaseId> && !is_crease_of<VertexId> && !is_crease_of<int>);

} // namespace

class IdTest : public QObject {
  Q_OBJECT
private slots:
  void none_is_less_than_any() {
    QVERIFY(VertexId() < VertexId(0));
    QCOMPARE(static_cast<int>(VertexId()), -1);
    QVERIFY(VertexId() == VertexId(-1) && VertexId() < 0);
    VertexId v(6);
    QVERIFY(++v == VertexId(7) && v == 7 && at(v) == 7);
  }
  void ids_are_kept_by_value() {
    const std::vector<int> numbers{4, 0, 2, 4, 2};
    const auto ids = ids_of<FaceId>(numbers);
    QCOMPARE(numbers_of(ids), numbers);
    const std::set<FaceId> sorted(ids.begin(), ids.end());
    QCOMPARE(numbers_of(std::vector<FaceId>(sorted.begin(), sorted.end())), (std::vector<int>{0, 2, 4}));
    QCOMPARE((std::unordered_set<FaceId>(ids.begin(), ids.end()).size()), std::size_t{3});
  }
  void files_hold_plain_numbers() {
    const nlohmann::json j = ids_of<CreaseId>({3, 1});
    QCOMPARE(j.dump(), std::string("[3,1]"));
  }
};

UC_TEST(IdTest)
#include "id_test.moc"
