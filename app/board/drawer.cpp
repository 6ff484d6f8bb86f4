#include "app/board/drawer.h"

#include "core/userfiles/cpp_scan.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace pipit::app
{

Drawer::Drawer(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    setObjectName("drawer");
    editor_ = new Editor(session);
    calls_ = new RowList("Last calls", 96, 110);
    calls_->setEmptyText("The last calls of handlers stand here once the program runs.");
    output_ = new QPlainTextEdit;
    output_->setReadOnly(true);
    output_->setFont(codeFont());
    output_->setMaximumBlockCount(5000);
    output_->setAccessibleName("The program's output");
    build_ = new RowList("Build messages", 170, 0);
    build_->setEmptyText("The compiler has nothing to say.");
    move_ = new MovePanel(session);
    pages_ = new QStackedWidget;
    for (QWidget *w : std::initializer_list<QWidget *>{editor_, calls_, output_, build_, move_})
        pages_->addWidget(w);
    pages_->setFixedHeight(212);
    auto *tabs = new QHBoxLayout;
    tabs->setContentsMargins(4, 0, 4, 0);
    tabs->setSpacing(0);
    const char *names[] = {"Code", "Last calls", "Output", "Build", "Move"};
    for (int i = 0; i < 5; ++i) {
        auto *b = new QPushButton(names[i]);
        b->setProperty("word", true);
        b->setCheckable(true);
        b->setFixedHeight(drawerTab - 2);
        connect(b, &QPushButton::clicked, this, [this, i] {
            if (open_ && pages_->currentIndex() == i)
                setOpen(false);
            else
                show(Page(i));
        });
        tabs->addWidget(b);
        tabs_ << b;
    }
    tabs_[MovePage]->hide();
    tabs->addStretch();
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(tabs);
    layout->addWidget(pages_);
    setOpen(false);
    connect(session, &Session::figuresChanged, this, &Drawer::showCalls);
    connect(session, &Session::traceReset, this, [this] {
        output_->clear();
        showCalls();
    });
    connect(session, &Session::outputArrived, this, [this](const QString &text, bool) {
        output_->moveCursor(QTextCursor::End);
        output_->insertPlainText(text);
        output_->moveCursor(QTextCursor::End);
    });
    connect(session, &Session::buildFinished, this, &Drawer::showBuild);
    connect(build_, &RowList::activatedRow, this, [this](const QString &key, int number) {
        if (!key.isEmpty())
            openPlace(key, number);
    });
    connect(move_, &MovePanel::applied, this, [this](const QString &handler) {
        tabs_[MovePage]->hide();
        openHandler(handler);
    });
    connect(move_, &MovePanel::dismissed, this, [this] {
        tabs_[MovePage]->hide();
        show(Code);
    });
}

void Drawer::setOpen(bool open)
{
    open_ = open;
    pages_->setVisible(open);
    for (int i = 0; i < tabs_.size(); ++i)
        tabs_[i]->setChecked(open && pages_->currentIndex() == i);
}

void Drawer::show(Page page)
{
    pages_->setCurrentIndex(page);
    setOpen(true);
    if (page == Calls)
        showCalls();
}

void Drawer::openPlace(const QString &file, int line, int column)
{
    show(Code);
    editor_->openAt(file, line, column);
    editor_->setFocus();
}

void Drawer::openHandler(const QString &name)
{
    const Handler *h = session_->hasProject() ? session_->project().handler(name) : nullptr;
    if (!h)
        return;
    show(Code);
    if (auto text = session_->workspace().files().text(h->file))
        for (const Definition &d : definitionsIn(*text))
            if (h->functions().contains(d.name)) {
                const qsizetype body = text->indexOf('\n', d.bodyOpen) + 1;
                editor_->openAt(h->file, d.line);
                const int bodyLine = lineAt(*text, body);
                const int at = std::max(0, bodyLine - 1);
                editor_->setCursorPosition(at, std::min(4, std::max(0, editor_->lineLength(at) - 1)));
                editor_->setFocus();
                return;
            }
    editor_->openFile(h->file);
}

void Drawer::planMove(const QString &handler, Shape shape)
{
    if (!move_->plan(handler, shape))
        return;
    tabs_[MovePage]->show();
    show(MovePage);
}

void Drawer::showCalls()
{
    if (!open_ || pages_->currentIndex() != Calls)
        return;
    const LiveFigures &f = session_->figures();
    std::vector<Row> rows;
    for (auto it = f.lastCalls.rbegin(); it != f.lastCalls.rend(); ++it) {
        Row r;
        r.lead = QStringLiteral("%1 s").arg(double(it->start - f.first) / 1e9, 0, 'f', 3);
        r.text = it->handler.name +
                 (it->source.isEmpty() ? QString() : ", from " + it->source + " · " + it->signal);
        r.tail = it->open ? "running" : durationText(it->duration);
        r.broken = it->duration >= 50'000'000;
        rows.push_back(std::move(r));
    }
    calls_->rowModel()->setRows(std::move(rows));
}

void Drawer::showBuild()
{
    std::vector<Row> rows;
    const BuildMessage *firstError = nullptr;
    for (const BuildMessage &m : session_->buildMessages()) {
        Row r;
        r.key = m.file;
        r.number = m.line;
        r.lead = m.file.isEmpty() ? QString()
                                  : QStringLiteral("%1:%2").arg(QFileInfo(m.file).fileName()).arg(m.line);
        r.text = m.text;
        r.broken = m.error;
        rows.push_back(r);
        if (m.error && !firstError)
            firstError = &m;
    }
    build_->rowModel()->setRows(std::move(rows));
    editor_->showMessages(session_->buildMessages());
    if (!firstError)
        return;
    const bool users = !firstError->file.isEmpty() && !firstError->file.startsWith('/') &&
                       !firstError->file.startsWith("generated/");
    if (users) {
        openPlace(firstError->file, firstError->line, firstError->column);
        editor_->showMessages(session_->buildMessages());
    } else {
        show(Build);
    }
}

} // namespace pipit::app
