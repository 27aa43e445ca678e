// The tests of the window run in groups, each on a display of its own: none may be in no group.
#include <QCoreApplication>
#include <QFile>
#include <QProcess>
#include <QRegularExpression>
#include <QSet>
#include <catch2/catch.hpp>

namespace {

// The names of the tests that a selection means, as the test program itself lists them.
QStringList tests_of(const QString& selection) {
  QProcess list;
  list.start(QCoreApplication::applicationFilePath(), {selection, "--list-test-names-only"});
  REQUIRE(list.waitForFinished(30000));
  return QString::fromUtf8(list.readAllStandardOutput()).split('\n', Qt::SkipEmptyParts);
}

}  // namespace

TEST_CASE("every test of the window is in exactly one of the groups that are run", "[start]") {
  QFile file(QStringLiteral(TACK_BUILD_DIR "/tests/app/CTestTestfile.cmake"));
  REQUIRE(file.open(QIODevice::ReadOnly));
  const QString text = QString::fromUtf8(file.readAll());
  QStringList run;
  auto groups = QRegularExpression("app-tests\" \"([^\"]*)\"").globalMatch(text);
  int count = 0;
  for (; groups.hasNext(); ++count) run += tests_of(groups.next().captured(1));
  CHECK(count > 10);
  const QStringList all = tests_of("~[.]");
  CHECK(all.size() > 70);
  for (const QString& name : all) {
    INFO(name.toStdString());
    CHECK(run.count(name) == 1);
  }
  CHECK(run.size() == all.size());
}
