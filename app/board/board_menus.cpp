// The Board's short menus, the window at its true size, and the generated code of a thing.
#include "app/board/board_page.h"

#include "app/look/short_menu.h"
#include "core/sentences/sentence.h"

#include <QKeyEvent>

namespace pipit::app
{

namespace
{

template <class View> void onMenu(View *view, QObject *owner, const std::function<void(const QPoint &)> &show)
{
    view->setContextMenuPolicy(Qt::CustomContextMenu);
    QObject::connect(view, &QWidget::customContextMenuRequested, owner,
                     [view, show](const QPoint &at) { show(view->mapToGlobal(at)); });
}

} // namespace

void BoardPage::showThingMenu(const QPoint &at)
{
    if (session_->selection.now().object.isEmpty())
        return;
    const QString timer =
        session_->document.isOpen() && session_->document.project().timer(session_->selection.now().object)
            ? session_->selection.now().object
            : QString();
    QList<MenuLine> lines{{"Edit its sentence", "F2", [this] { outline_->editSentence(); }},
                          {"Set a property", "Alt+S", [this] { outline_->valueLine()->setFocus(); }},
                          {"Connect it", "Alt+I",
                           [this] {
                               connect_->setText(session_->selection.now().object + '.');
                               connect_->setFocus();
                           }},
                          {"Why?", "Alt+Shift+Y",
                           session_->shown.trace() ? std::function<void()>([this] {
                               Q_EMIT whyAsked(session_->selection.now().object);
                           })
                                                   : std::function<void()>()},
                          {"Its code", {}, [this] { showGenerated(); }},
                          {"Remove it", "Delete", [this] { outline_->removeSelected(); }}};
    if (!timer.isEmpty())
        for (const MenuLine &line :
             {MenuLine{
                  "Replace polling with notifications…", {}, [this, timer] { drawer_->planTold(timer); }},
              MenuLine{
                  "Replace with a single-shot timer…", {}, [this, timer] { drawer_->planOnTime(timer); }}})
            lines.insert(lines.size() - 1, line);
    showMenu(this, at, lines);
}

void BoardPage::makeMenus()
{
    onMenu(outline_->objects(), this, [this](const QPoint &at) {
        RowList *rows = outline_->objects(); // the one under the pointer is meant
        if (const Row *r = rows->rowModel()->row(rows->indexAt(rows->viewport()->mapFromGlobal(at))))
            session_->selection.select({r->key, {}, {}});
        showThingMenu(at);
    });
    onMenu(wiring_->sentences(), this, [this](const QPoint &at) {
        const QListView *rows = wiring_->sentences();
        if (const QModelIndex i = rows->indexAt(rows->viewport()->mapFromGlobal(at)); i.isValid()) {
            const SentenceRow r = wiring_->sentenceModel()->row(i.row());
            session_->selection.select({r.object, r.connection, r.handler});
        }
        const Selected s = session_->selection.now();
        const Connection *c =
            session_->document.isOpen() ? session_->document.project().connection(s.connection) : nullptr;
        if (!c)
            return;
        QList<MenuLine> lines;
        if (!s.handler.isEmpty())
            lines << MenuLine{"Open its handler", "Return", [this, s] { drawer_->openHandler(s.handler); }};
        lines << MenuLine{c->enabled ? "Switch it off" : "Switch it on", "Space",
                          [this, id = c->id, on = !c->enabled] { session_->runs.switchConnection(id, on); }}
              << MenuLine{"Its code", {}, [this] { showGenerated(); }}
              << MenuLine{"Remove it", "Delete", [this, id = c->id] {
                              session_->document.edit([&](Workspace &w) { return w.disconnect(id); });
                          }};
        showMenu(this, at, lines);
    });
    onMenu(wiring_->cards(), this, [this](const QPoint &at) {
        const QString name = session_->selection.now().handler;
        const Handler *h = session_->document.isOpen() ? session_->document.project().handler(name) : nullptr;
        if (!h)
            return;
        const auto run = [this, name](const char *words, const char *keys, Shape shape) {
            return MenuLine{words, keys, [this, name, shape] { drawer_->planMove(name, shape); }};
        };
        QList<MenuLine> lines{{"Its code", "Alt+C", [this, name] { drawer_->openHandler(name); }}};
        if (h->shape == Shape::OneGo)
            lines << run("Run it in the background…", "Alt+B", Shape::Background)
                  << run("Run it in steps…", "", Shape::Steps);
        else
            lines << run("Run it in one go…", "", Shape::OneGo);
        if (h->shape == Shape::Background)
            lines << run("When triggered again…", "", Shape::Background);
        lines << MenuLine{"Remove it and its code", "Delete", [this] { wiring_->removeHandler(); }};
        showMenu(this, at, lines);
    });
}

// What Pipit made of the selected sentence or widget, to be read.
void BoardPage::showGenerated()
{
    if (!session_->document.isOpen())
        return;
    const Project &p = session_->document.project();
    const Selected s = session_->selection.now();
    const Connection *c = p.connection(s.connection);
    const QString object = c ? c->from : s.object;
    const WindowNode &w = p.windows[std::max(0, p.windowOf(object))];
    const QString file = "generated/" + w.file + (c ? "_wiring.cpp" : "_base.cpp");
    const QString wanted = c ? "// " + sentenceFor(*c) : "    " + object + " = new ";
    session_->document.generateCode([this, file, wanted, what = c ? sentenceFor(*c) : object] {
        UserFiles &files = session_->document.workspace().files();
        files.reload(file);
        auto text = files.text(file);
        const qsizetype at = text ? text->indexOf(wanted) : -1;
        if (at < 0)
            Q_EMIT session_->messages.note("No code is generated for " + what + " alone.");
        else
            drawer_->openPlace(file, int(text->left(at).count('\n')) + 1);
    });
}

// The windows at their true size where the sentences stand, and back.
void BoardPage::setLarge(bool large)
{
    if (large_ == large)
        return;
    large_ = large;
    if (large) {
        windows_->show(preview_);
        wiring_->setInPlaceOfSentences(windows_, [this](const QString &o) { return windows_->placeOf(o); });
        // Once it is known how much room there is.
        QMetaObject::invokeMethod(windows_, &WindowsRow::goToSelected, Qt::QueuedConnection);
        preview_->setFocus();
    } else {
        wiring_->setInPlaceOfSentences(nullptr);
        windows_->giveBack();
        windows_->hide();
        static_cast<QVBoxLayout *>(left_->layout())->insertWidget(0, preview_);
        preview_->show();
        outline_->objects()->setFocus();
    }
}

// A text that was changed where it stands in the window.
void BoardPage::takeText(const QString &widget, const QString &property, const QString &text)
{
    session_->document.edit([&](Workspace &w) { return w.setProperty(widget, property, text); });
}

} // namespace pipit::app
