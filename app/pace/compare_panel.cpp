#include "app/pace/compare_panel.h"

#include "app/look/choice_box.h"
#include "app/look/tokens.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>

namespace pipit::app
{

namespace
{

QHBoxLayout *lineOf(std::initializer_list<QWidget *> widgets)
{
    auto *line = new QHBoxLayout;
    line->setContentsMargins(padding, 4, padding, 4);
    line->setSpacing(8);
    for (QWidget *w : widgets)
        line->addWidget(w, qobject_cast<QComboBox *>(w) ? 1 : 0);
    return line;
}

} // namespace

ComparePanel::ComparePanel(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    auto *v = new QVBoxLayout(this);
    v->setContentsMargins(0, 0, 0, 0);
    v->setSpacing(0);
    auto *title = new QLabel("Before and after");
    title->setFont(titleFont());
    title->setContentsMargins(padding, 14, padding, 6);
    v->addWidget(title);
    plays_ = new ChoiceBox("plays", "Play");
    times_ = new ChoiceBox("times", "How often");
    for (const int n : {1, 5, 10, 20})
        times_->addItem(n == 1 ? QStringLiteral("once") : QStringLiteral("%1 times").arg(n), n);
    play_ = new QPushButton("Play it");
    play_->setObjectName("playButton");
    elsewhere_ = new QPushButton("On another project…");
    auto *line = lineOf({plays_, times_, play_, elsewhere_});
    line->setStretch(0, 3);
    line->setStretch(1, 2);
    v->addLayout(line);
    before_ = new ChoiceBox("before", "Before");
    after_ = new ChoiceBox("after", "After");
    page_ = new QPushButton("Save as HTML…");
    page_->setObjectName("pageButton");
    page_->setEnabled(false);
    plays_->setPlaceholderText("no play yet");
    runs_ = new QWidget;
    runs_->setLayout(lineOf({before_, new QLabel("with"), after_, page_}));
    runs_->hide(); // until there are two to compare
    v->addWidget(runs_);
    said_ = new QLabel;
    said_->setFont(smallFont());
    said_->setContentsMargins(padding, 2, padding, 4);
    said_->setWordWrap(true);
    v->addWidget(said_);
    comparison_ = new ComparisonView;
    auto *scroll = new QScrollArea;
    scroll->setWidget(comparison_);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    v->addWidget(scroll, 1);
    connect(play_, &QPushButton::clicked, this, [this] {
        session_->runs.runPlayFile(plays_->currentData().toString(), times_->currentData().toInt());
    });
    connect(elsewhere_, &QPushButton::clicked, this, [this] {
        Q_EMIT elsewhereAsked(plays_->currentData().toString(), times_->currentData().toInt());
    });
    connect(page_, &QPushButton::clicked, this, &ComparePanel::askForPage);
    connect(before_, &QComboBox::activated, this, &ComparePanel::compare);
    connect(after_, &QComboBox::activated, this, &ComparePanel::compare);
    connect(&session_->runs, &Runs::playChanged, this, &ComparePanel::tellPlay);
    connect(&session->runs, &Runs::pastChanged, this, &ComparePanel::fillRuns);
    connect(&session->document, &Document::opened, this, &ComparePanel::fillPlays);
    connect(&session->runs, &Runs::stateChanged, this, &ComparePanel::fillPlays);
    fillPlays();
}

void ComparePanel::fillPlays()
{
    const QString was = plays_->currentText();
    plays_->clear();
    for (const QString &f : session_->document.playFiles())
        plays_->addItem(QFileInfo(f).fileName(), f);
    // With words for an empty box nothing is chosen by itself.
    plays_->setCurrentIndex(std::max(0, plays_->findText(was)));
    if (series_.empty())
        comparison_->setEmptyText(
            plays_->count() > 0
                ? "Run the same play before and after a change. The runs appear here side by side."
                : "A play repeats the same input. Write one on the Plays page and run it before and after a "
                  "change. The runs appear here side by side.");
    const bool idle = session_->runs.state() == RunState::Idle;
    play_->setEnabled(plays_->count() > 0 && idle);
    elsewhere_->setEnabled(plays_->count() > 0 && idle);
}

void ComparePanel::tellPlay()
{
    const auto &report = session_->runs.lastPlay();
    if (!report)
        return;
    QStringList failed;
    for (const StepResult &r : report->steps)
        if (!r.ok)
            failed << QStringLiteral("Line %1, %2: expected %3, found %4.")
                          .arg(r.step.line)
                          .arg(r.step.source, r.expected, r.found);
    said_->setText(report->ok ? QStringLiteral("%1: every expectation was met.").arg(report->play)
                              : failed.join('\n'));
}

void ComparePanel::fillRuns()
{
    series_.clear();
    int last = -1;
    for (const PastRun &r : session_->runs.past()) {
        if (r.series != last || series_.empty())
            series_.push_back({r.label, {}});
        last = r.series;
        series_.back().runs.push_back(r);
    }
    for (QComboBox *box : {before_, after_}) {
        box->clear();
        for (const Series &s : series_)
            box->addItem(s.runs.size() > 1
                             ? s.label + ", " + counted(std::int64_t(s.runs.size()), "run", "runs")
                             : s.label);
    }
    if (series_.size() == 1 && !series_.front().runs.front().info.play.isEmpty())
        comparison_->setEmptyText(QStringLiteral("%1 of %2 kept for comparison. Now change the program, for "
                                                 "example move what blocks it. Then run the same play again.")
                                      .arg(counted(std::int64_t(series_.front().runs.size()), "run", "runs"),
                                           series_.front().runs.front().info.play +
                                               (series_.front().runs.size() == 1 ? " is" : " are")));
    runs_->setVisible(series_.size() > 1);
    if (series_.size() < 2)
        return;
    // The newest against the newest before it that played the same play.
    const auto playOf = [&](std::size_t i) { return series_[i].runs.front().info.playFingerprint; };
    const std::size_t newest = series_.size() - 1;
    std::size_t other = newest - 1;
    for (std::size_t i = newest; i-- > 0;)
        if (!playOf(newest).isEmpty() && playOf(i) == playOf(newest)) {
            other = i;
            break;
        }
    before_->setCurrentIndex(int(other));
    after_->setCurrentIndex(int(newest));
    compare();
}

const ComparePanel::Series *ComparePanel::chosen(const QComboBox *box) const
{
    const int i = box->currentIndex();
    return i < 0 || std::size_t(i) >= series_.size() ? nullptr : &series_[std::size_t(i)];
}

void ComparePanel::compare()
{
    const Series *b = chosen(before_), *a = chosen(after_);
    page_->setEnabled(b && a);
    if (b && a)
        comparison_->set(compareRuns(b->runs, a->runs));
}

void ComparePanel::askForPage()
{
    const QString path = QFileDialog::getSaveFileName(this, "Save the comparison as HTML",
                                                      "before-and-after.html", "Pages (*.html)");
    if (!path.isEmpty())
        savePage(path);
}

void ComparePanel::savePage(const QString &path)
{
    const Series *b = chosen(before_), *a = chosen(after_);
    if (b && a)
        session_->runs.saveProof(comparison_->comparison(), b->runs, a->runs, path);
}

} // namespace pipit::app
