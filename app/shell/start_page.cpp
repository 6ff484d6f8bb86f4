#include "app/shell/start_page.h"

#include "core/base/command_words.h"
#include "core/runner/inspect.h"

#include <QCheckBox>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QRegularExpression>
#include <QStandardPaths>
#include <QVBoxLayout>

namespace pipit::app
{

namespace
{

class Bird : public QWidget
{
public:
    Bird() { setFixedSize(64, 56); }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        drawMark(p, Mark::Bird, rect().center(), Tokens::current().ink, 44);
    }
};

QPushButton *word(const QString &text)
{
    auto *b = new QPushButton(text);
    b->setProperty("word", true);
    return b;
}

} // namespace

StartPage::StartPage(Remembered *remembered, QWidget *parent) : QWidget(parent), remembered_(remembered)
{
    auto *words = new QLabel("Connect signals and events to handlers,\nand keep the interface responsive.");
    words->setFont(titleFont());
    auto *head = new QHBoxLayout;
    head->setSpacing(16);
    head->addStretch();
    head->addWidget(new Bird);
    head->addWidget(words);
    head->addStretch();
    auto *make = new QPushButton("New project…");
    make->setProperty("main", true);
    auto *open = new QPushButton("Open a project…");
    auto *recording = new QPushButton("Open a recording…");
    auto *demo = new QPushButton("Open the demo");
    demo->setToolTip("Opens a copy of the demo project, a ferry desk");
    auto *buttons = new QHBoxLayout;
    buttons->addStretch();
    for (QPushButton *b : {make, open, recording, demo})
        buttons->addWidget(b);
    buttons->addStretch();
    recent_ = new RowList("Recent files", 0, 120);
    recent_->setObjectName("recent");
    recent_->setEmptyText("Recent projects and recordings appear here.");
    recent_->setFixedHeight(scaled(212));
    auto *column = new QVBoxLayout;
    column->setSpacing(14);
    column->addLayout(head);
    column->addLayout(buttons);
    column->addWidget(recent_);
    column->addWidget(makeProgramLines());
    auto *box = new QWidget;
    box->setMaximumWidth(scaled(720));
    box->setLayout(column);
    auto *h = new QHBoxLayout;
    h->addStretch(1);
    h->addWidget(box, 6);
    h->addStretch(1);
    auto *v = new QVBoxLayout(this);
    v->addStretch(2);
    v->addLayout(h);
    v->addStretch(3);
    connect(make, &QPushButton::clicked, this, &StartPage::newAsked);
    connect(open, &QPushButton::clicked, this, &StartPage::openAsked);
    connect(recording, &QPushButton::clicked, this, &StartPage::recordingAsked);
    connect(demo, &QPushButton::clicked, this, &StartPage::demoAsked);
    connect(recent_, &RowList::activatedRow, this, [this](const QString &path, int) { Q_EMIT chosen(path); });
}

QWidget *StartPage::makeProgramLines()
{
    const auto line = [](const QString &name, const QString &placeholder, const QString &accessible) {
        auto *l = new QLineEdit;
        l->setObjectName(name);
        l->setPlaceholderText(placeholder);
        l->setAccessibleName(accessible);
        return l;
    };
    program_ = line("programLine", "Start and record a Qt 6 program: path and arguments",
                    "Start and record a program");
    folder_ = line("programFolder", "Working folder", "The program's working folder");
    environment_ = line("programEnvironment", "Environment variables, such as LANG=de_DE.UTF-8 MODE=quick",
                        "Environment variables of the program");
    play_ = line("programPlay", "A play to run", "A play to run on the program");
    auto *browseProgram = word("Browse…"), *entries = word("From the desktop…"), *more = word("More…");
    auto *record = new QPushButton("Start and record");
    auto *first = new QHBoxLayout;
    first->addWidget(program_, 1);
    first->addWidget(record);
    auto *second = new QHBoxLayout;
    for (QPushButton *b : {browseProgram, entries, more})
        second->addWidget(b);
    second->addStretch();
    more_ = new QWidget;
    auto *form = new QVBoxLayout(more_);
    form->setContentsMargins(0, 0, 0, 0);
    for (QLineEdit *l : {folder_, environment_, play_}) {
        auto *row = new QHBoxLayout;
        row->addWidget(l, 1);
        if (l != environment_) {
            auto *b = word("Browse…");
            row->addWidget(b);
            connect(b, &QPushButton::clicked, this, [this, l] {
                browse(l, l == folder_ ? "The program's working folder" : "A play", l == folder_);
            });
        }
        form->addLayout(row);
        connect(l, &QLineEdit::returnPressed, this, &StartPage::startProgram);
    }
    mask_ = new QCheckBox("Record no text that the windows show, not even captions");
    mask_->setObjectName("maskTexts");
    form->addWidget(mask_);
    more_->hide();
    note_ = new NoteLine;
    auto *all = new QWidget;
    auto *v = new QVBoxLayout(all);
    v->setContentsMargins(0, 0, 0, 0);
    v->addLayout(first);
    v->addWidget(note_);
    v->addWidget(more_);
    v->addLayout(second);
    connect(record, &QPushButton::clicked, this, &StartPage::startProgram);
    connect(program_, &QLineEdit::returnPressed, this, &StartPage::startProgram);
    connect(program_, &QLineEdit::textChanged, note_, [this] { note_->clearNote(); });
    connect(browseProgram, &QPushButton::clicked, this,
            [this] { browse(program_, "The program to start", false); });
    connect(entries, &QPushButton::clicked, this, &StartPage::entriesAsked);
    connect(more, &QPushButton::clicked, this, [this, more] {
        more_->setVisible(!more_->isVisible());
        more->setText(more_->isVisible() ? "Less" : "More…");
    });
    return all;
}

void StartPage::browse(QLineEdit *into, const QString &title, bool folder)
{
    const QString path = folder ? QFileDialog::getExistingDirectory(this, title)
                                : QFileDialog::getOpenFileName(this, title, "/usr/bin");
    if (!path.isEmpty())
        into->setText(path.contains(' ') ? '"' + path + '"' : path);
    into->setFocus();
}

void StartPage::fill()
{
    std::vector<Row> rows;
    for (const auto &[kind, tail] : {std::pair{"projects", "project"}, {"recordings", "recording"}})
        for (const QString &path : remembered_->recent(kind)) {
            Row r;
            r.key = path;
            r.text = QFileInfo(path).fileName() + "   " +
                     QDir::toNativeSeparators(QString(path).replace(QDir::homePath(), "~"));
            r.tail = tail;
            rows.push_back(std::move(r));
        }
    recent_->setVisible(!rows.empty());
    recent_->rowModel()->setRows(std::move(rows));
    if (program_->text().isEmpty() && !remembered_->recent("programs").isEmpty())
        program_->setText(remembered_->recent("programs").first());
}

void StartPage::startProgram()
{
    QList<QStringList> all;
    for (const QLineEdit *l : {program_, folder_, environment_, play_}) {
        auto words = commandWords(l->text());
        if (!words)
            return note_->saysWrong(words.problem().text());
        all << *words;
    }
    QStringList words = all[0];
    if (words.isEmpty() || words.first().isEmpty()) {
        note_->saysWrong("Type the program to start, as on a command line.");
        program_->setFocus();
        return;
    }
    ProgramSpec spec;
    spec.program = words.takeFirst();
    spec.arguments = words;
    spec.workingFolder = all[1].value(0);
    spec.environment = all[2];
    spec.maskTexts = mask_->isChecked();
    for (const QString &e : std::as_const(spec.environment))
        if (!e.contains('=')) {
            note_->saysWrong(QStringLiteral("'%1' is not a variable. Write NAME=value.").arg(e));
            return;
        }
    if (!spec.workingFolder.isEmpty() && !QFileInfo(spec.workingFolder).isDir()) {
        note_->saysWrong(spec.workingFolder + " is not a folder. Choose an existing folder.");
        return;
    }
    remembered_->use("programs", program_->text().trimmed());
    Q_EMIT programAsked(spec, all[3].value(0));
}

QList<DesktopEntry> desktopEntries()
{
    QList<DesktopEntry> entries;
    static const QRegularExpression name("^Name=(.+)$", QRegularExpression::MultilineOption),
        exec("^Exec=(.+)$", QRegularExpression::MultilineOption), codes("\\s*%[a-zA-Z]");
    for (const QString &file :
         QStandardPaths::locateAll(QStandardPaths::ApplicationsLocation, {}, QStandardPaths::LocateDirectory))
        for (const QFileInfo &f : QDir(file).entryInfoList({"*.desktop"}, QDir::Files)) {
            QFile in(f.filePath());
            if (!in.open(QIODevice::ReadOnly))
                continue;
            const QString text = QString::fromUtf8(in.read(64 * 1024));
            const QString command = exec.match(text).captured(1).remove(codes).trimmed();
            const auto words = commandWords(command);
            if (words && !words->isEmpty() && usesToolkit(words->first()))
                entries.append({name.match(text).captured(1), command});
        }
    return entries;
}

} // namespace pipit::app
