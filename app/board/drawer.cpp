#include "app/board/drawer.h"

#include "app/look/short_menu.h"

#include "core/edits/mend.h"
#include "core/userfiles/cpp_scan.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace pipit::app
{

Drawer::Drawer(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    setObjectName("drawer");
    makePages();
    auto *tabs = makeTabs();
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(tabs);
    layout->addWidget(pages_);
    setOpen(false);
    hearSession();
    hearPages();
}

void Drawer::makePages()
{
    editor_ = new Editor(session_);
    calls_ = new RowList("Last calls", 96, 110);
    calls_->setEmptyText("The latest handler calls appear here while the program runs.");
    findings_ = new RowList("Findings", 0, 220);
    findings_->setObjectName("findings");
    findings_->setEmptyText("There are no findings.");
    output_ = new OutputPane;
    build_ = new RowList("Build messages", 170, 0);
    build_->setEmptyText("There are no compiler messages.");
    move_ = new MovePanel(session_);
    rename_ = new RenamePanel(session_);
    changes_ = new QStackedWidget;
    changes_->addWidget(move_);
    changes_->addWidget(rename_);
    clash_ = new ClashPanel(session_);
    pages_ = new QStackedWidget;
    for (QWidget *w :
         std::initializer_list<QWidget *>{editor_, calls_, findings_, output_, build_, changes_, clash_})
        pages_->addWidget(w);
    pages_->setFixedHeight(scaled(212));
}

QLayout *Drawer::makeTabs()
{
    auto *tabs = new QHBoxLayout;
    tabs->setContentsMargins(4, 0, 4, 0);
    tabs->setSpacing(0);
    const char *names[] = {"Code", "Last calls", "Findings", "Output", "Build", "Change", "Both texts"};
    for (int i = 0; i < 7; ++i) {
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
    tabs_[ClashPage]->hide();
    tabs->addStretch();
    find_ = new QLineEdit;
    find_->setObjectName("findLine");
    find_->setPlaceholderText("Find in the code");
    find_->setAccessibleName("Find in the code");
    find_->setFixedWidth(scaled(220));
    find_->hide();
    connect(editor_, &Editor::menuAsked, this, &Drawer::showCodeMenu);
    connect(find_, &QLineEdit::textEdited, this, [this](const QString &t) { editor_->findText(t, false); });
    connect(find_, &QLineEdit::returnPressed, this, [this] { editor_->findText(find_->text(), true); });
    tabs->addWidget(find_);
    return tabs;
}

void Drawer::hearSession()
{
    connect(&session_->shown, &ShownTrace::figuresChanged, this, &Drawer::showCalls);
    connect(&session_->shown, &ShownTrace::reset, this, [this] {
        output_->empty();
        showCalls();
    });
    connect(&session_->runs, &Runs::outputArrived, this,
            [this](const QString &text, bool) { output_->take(text); });
    connect(&session_->runs, &Runs::buildFinished, this, &Drawer::showBuild);
    connect(&session_->document, &Document::changed, this, &Drawer::fillFindings);
    connect(&session_->document, &Document::findingsChanged, this, &Drawer::fillFindings);
    connect(&session_->document, &Document::clashesChanged, this, &Drawer::showClashes);
    connect(clash_, &ClashPanel::settled, this, &Drawer::showClashes);
}

void Drawer::hearPages()
{
    connect(findings_, &RowList::chosen, this, [this](const QString &where, int) {
        const Project &p = session_->document.project();
        if (p.connection(where))
            session_->selection.select({p.connection(where)->from, where, p.connection(where)->to});
        else
            session_->selection.select(p.handler(where) ? Selected{{}, {}, where} : Selected{where, {}, {}});
    });
    connect(findings_, &RowList::activatedRow, this, [this](const QString &, int number) {
        if (number < 0 || number >= session_->document.findings().size())
            return;
        const Finding f = session_->document.findings()[number];
        if (f.mend != Finding::Mend::None)
            session_->document.edit([&](Workspace &w) { return mend(w, f); });
    });
    connect(build_, &RowList::activatedRow, this, [this](const QString &key, int number) {
        if (!key.isEmpty())
            openPlace(key, number);
    });
    connect(move_, &MovePanel::applied, this, [this](const QString &handler) {
        tabs_[MovePage]->hide();
        openHandler(handler);
    });
    connect(move_, &MovePanel::placeAsked, this,
            [this](const QString &file, int line) { openPlace(file, line); });
    connect(rename_, &RenamePanel::applied, this, &Drawer::endChange);
    connect(rename_, &RenamePanel::dismissed, this, &Drawer::endChange);
    connect(move_, &MovePanel::dismissed, this, &Drawer::endChange);
}

void Drawer::showChange(QWidget *panel)
{
    changes_->setCurrentWidget(panel);
    tabs_[MovePage]->show();
    show(MovePage);
}

void Drawer::endChange()
{
    tabs_[MovePage]->hide();
    show(Code);
}

void Drawer::showClashes()
{
    const bool some = clash_->showFirst();
    const bool wasShown = pages_->currentIndex() == ClashPage;
    tabs_[ClashPage]->setVisible(some);
    if (some)
        show(ClashPage);
    else if (wasShown)
        show(Code);
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
    // A change of the code is read side by side, which takes room.
    pages_->setFixedHeight(page == MovePage ? std::max(scaled(212), window()->height() * 45 / 100)
                                            : scaled(212));
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
    showHandler(name);
    if (open_ && pages_->currentIndex() == Code)
        editor_->setFocus();
}

void Drawer::showHandler(const QString &name)
{
    const Handler *h = session_->document.isOpen() ? session_->document.project().handler(name) : nullptr;
    if (!h)
        return;
    show(Code);
    if (auto text = session_->document.workspace().files().text(h->file))
        for (const Definition &d : definitionsIn(*text))
            if (h->functionNames().contains(d.name)) {
                const qsizetype body = text->indexOf('\n', d.bodyOpen) + 1;
                editor_->openAt(h->file, d.line);
                const int bodyLine = lineAt(*text, body);
                const int at = std::max(0, bodyLine - 1);
                editor_->setCursorPosition(at, std::min(4, std::max(0, editor_->lineLength(at) - 1)));
                return;
            }
    editor_->openFile(h->file);
}

void Drawer::planMove(const QString &handler, Shape shape)
{
    showChange(move_);
    move_->plan(handler, shape);
}

void Drawer::planTold(const QString &timer)
{
    showChange(move_);
    move_->planTold(timer);
}

void Drawer::planOnTime(const QString &timer)
{
    showChange(move_);
    move_->planOnTime(timer);
}

void Drawer::planRename(const QString &from, const QString &to, bool all)
{
    if (rename_->plan(from, to, all))
        showChange(rename_);
}

void Drawer::findInCode()
{
    show(Code);
    find_->show();
    find_->setFocus();
    find_->selectAll();
}

void Drawer::showFindings()
{
    show(Findings);
    findings_->setFocus();
}

void Drawer::fillFindings()
{
    std::vector<Row> rows;
    int number = 0;
    for (const Finding &f : session_->document.findings()) {
        Row r;
        r.key = f.where;
        r.number = number++;
        r.text = f.message;
        r.tail = f.mend != Finding::Mend::None ? "Return fixes it" : severityWord(f.severity);
        r.mark =
            f.severity == Finding::Severity::Error ? Tokens::current().vermilion : Tokens::current().edge;
        r.shape = Mark::Finding;
        rows.push_back(std::move(r));
        if (number >= 2000)
            break;
    }
    tabs_[Findings]->setText(number ? QStringLiteral("Findings %1").arg(number) : QString("Findings"));
    findings_->rowModel()->setRows(std::move(rows));
}

void Drawer::showCalls()
{
    if (!open_ || pages_->currentIndex() != Calls)
        return;
    const LiveFigures &f = session_->shown.figures();
    const TraceModel *trace = session_->shown.trace();
    const auto threads = trace ? trace->threads() : QList<ThreadInfo>();
    std::vector<Row> rows;
    for (auto it = f.lastCalls.rbegin(); it != f.lastCalls.rend(); ++it) {
        Row r;
        r.lead = QStringLiteral("%1 s").arg(double(it->start - f.first) / 1e9, 0, 'f', 3);
        r.text = it->handler.name +
                 (it->source.isEmpty() ? QString() : ", from " + it->source + " · " + it->signal);
        r.tail = it->open ? "running" : durationText(it->duration);
        r.broken = overBudget(it->duration) && threads.value(it->thread).main;
        rows.push_back(std::move(r));
    }
    calls_->rowModel()->setRows(std::move(rows));
}

void Drawer::showBuild()
{
    std::vector<Row> rows;
    const BuildMessage *firstError = nullptr;
    for (const BuildMessage &m : session_->runs.buildMessages()) {
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
    editor_->showMessages(session_->runs.buildMessages());
    if (!firstError)
        return;
    const bool users = !firstError->file.isEmpty() && !firstError->file.startsWith('/') &&
                       !firstError->file.startsWith("generated/");
    if (users) {
        openPlace(firstError->file, firstError->line, firstError->column);
        editor_->showMessages(session_->runs.buildMessages());
    } else {
        show(Build);
    }
}

void Drawer::showCodeMenu(const QPoint &global)
{
    const bool some = editor_->hasSelectedText();
    const QString handler = editor_->handlerAtCursor();
    showMenu(this, global,
             {{"Cut", "Ctrl+X", some ? [this] { editor_->cut(); } : std::function<void()>()},
              {"Copy", "Ctrl+C", some ? [this] { editor_->copy(); } : std::function<void()>()},
              {"Paste", "Ctrl+V", [this] { editor_->paste(); }},
              {handler.isEmpty() ? QString("Go to its card") : "Go to the card of " + handler, "Alt+H",
               handler.isEmpty() ? std::function<void()>()
                                 : [this, handler] { session_->selection.select({{}, {}, handler}); }},
              {"Find", "Ctrl+F", [this] { findInCode(); }}});
}

} // namespace pipit::app
