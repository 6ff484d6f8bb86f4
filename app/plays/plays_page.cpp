#include "app/plays/plays_page.h"

#include "app/look/divider.h"
#include "app/look/empty_action.h"
#include "core/base/files.h"
#include "core/plays/play.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace pipit::app
{

PlaysPage::PlaysPage(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    files_ = new RowList("Plays of the project", 0, 0);
    files_->setEmptyText("A play is scripted input with expectations, one step per line.");
    text_ = new QPlainTextEdit;
    text_->setFont(codeFont());
    text_->document()->setDocumentMargin(padding);
    text_->setAccessibleName("The play");
    text_->setObjectName("playText");
    text_->setPlaceholderText("boardButton: click\nstatusLabel: expect text \"Ready\"");
    results_ = new RowList("Steps of the last run", 84, 84);
    results_->setEmptyText("Run a play. Each step appears here with its result.");
    run_ = new QPushButton("Run this play");
    run_->setProperty("main", true);
    save_ = new QPushButton("Save it");
    make_ = new QPushButton("New play");
    said_ = new QLabel;
    said_->setFont(smallFont());
    auto *buttons = new QHBoxLayout;
    buttons->setContentsMargins(padding, 6, padding, 6);
    buttons->setSpacing(8);
    for (QPushButton *b : {run_, save_, make_})
        buttons->addWidget(b);
    buttons->addWidget(said_, 1);
    auto *middle = new QVBoxLayout;
    middle->setSpacing(0);
    middle->addLayout(buttons);
    middle->addWidget(text_, 3);
    middle->addWidget(results_, 2);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto *between = new Divider("Width of the list of plays");
    connect(between, &Divider::moved, this, [this](int by) { setFilesWidth(files_->width() + by); });
    connect(between, &Divider::reset, this, [this] { setFilesWidth(0); });
    layout->addWidget(files_);
    layout->addWidget(between);
    layout->addLayout(middle, 1);
    setFilesWidth(0);
    connect(&session->document, &Document::opened, this, &PlaysPage::fill);
    connect(&session->runs, &Runs::playChanged, this, &PlaysPage::showReport);
    connect(&session->runs, &Runs::stateChanged, this,
            [this] { run_->setEnabled(session_->runs.state() == RunState::Idle && !file_.isEmpty()); });
    connect(files_, &RowList::chosen, this, [this](const QString &key, int) { openPlay(key); });
    connect(save_, &QPushButton::clicked, this, &PlaysPage::saveText);
    connect(make_, &QPushButton::clicked, this, &PlaysPage::makePlay);
    auto *first = new EmptyAction(files_);
    connect(first, &QPushButton::clicked, this, &PlaysPage::makePlay);
    connect(&session->document, &Document::changed, first,
            [this, first] { first->offer(session_->document.isOpen() ? "Write a play" : QString()); });
    connect(run_, &QPushButton::clicked, this, [this] {
        if (saveText())
            session_->runs.runPlayFile(file_);
    });
    connect(results_, &RowList::activatedRow, this,
            [this](const QString &key, int) { Q_EMIT timeAsked(key.toLongLong()); });
    run_->setEnabled(false);
    save_->setEnabled(false);
}

void PlaysPage::fill()
{
    std::vector<Row> rows;
    for (const QString &f : session_->document.playFiles()) {
        Row r;
        r.key = f;
        r.text = QFileInfo(f).completeBaseName();
        rows.push_back(r);
    }
    files_->rowModel()->setRows(rows);
    if (!rows.empty())
        openPlay(rows.front().key);
}

void PlaysPage::openPlay(const QString &file)
{
    auto bytes = readFile(file);
    if (!bytes) {
        Q_EMIT session_->messages.problem(bytes.problem().text());
        return;
    }
    file_ = file;
    files_->selectKey(file);
    text_->setPlainText(QString::fromUtf8(*bytes));
    run_->setEnabled(session_->runs.state() == RunState::Idle);
    save_->setEnabled(true);
    said_->clear();
}

bool PlaysPage::saveText()
{
    if (file_.isEmpty())
        return false;
    if (auto play = parsePlay(text_->toPlainText(), file_); !play) {
        Q_EMIT session_->messages.problem(play.problem().text());
        return false;
    }
    if (auto ok = writeFile(file_, text_->toPlainText().toUtf8()); !ok) {
        Q_EMIT session_->messages.problem(ok.problem().text());
        return false;
    }
    said_->setText("Saved.");
    return true;
}

void PlaysPage::makePlay()
{
    if (!session_->document.isOpen())
        return;
    const QString folder = session_->document.workspace().place().folder + "/plays";
    if (auto ok = makeFolder(folder); !ok) {
        Q_EMIT session_->messages.problem(ok.problem().text());
        return;
    }
    int n = 1;
    while (QFileInfo::exists(QStringLiteral("%1/play%2.play").arg(folder).arg(n)))
        ++n;
    const QString file = QStringLiteral("%1/play%2.play").arg(folder).arg(n);
    if (auto ok = writeFile(file, "# One step per line: a widget, then what to do with it.\n"); !ok) {
        Q_EMIT session_->messages.problem(ok.problem().text());
        return;
    }
    fill();
    openPlay(file);
    text_->setFocus();
}

void PlaysPage::showReport()
{
    const auto &report = session_->runs.lastPlay();
    std::vector<Row> rows;
    for (const StepResult &s : report ? report->steps : QList<StepResult>()) {
        Row r;
        r.key = QString::number(s.start);
        r.lead = s.ok ? "met" : "failed";
        r.text = s.step.source;
        if (!s.ok)
            r.text +=
                s.expected.isEmpty() ? ": " + s.found : " — expected " + s.expected + ", found " + s.found;
        r.tail = durationText(s.end - s.start);
        r.broken = !s.ok;
        rows.push_back(r);
    }
    results_->rowModel()->setRows(std::move(rows));
}

void PlaysPage::setFilesWidth(int width)
{
    filesWidth_ = width ? std::clamp(width, scaled(120), scaled(480)) : 0;
    files_->setFixedWidth(filesWidth_ ? filesWidth_ : scaled(208));
    Q_EMIT filesWidthChanged();
}

} // namespace pipit::app
