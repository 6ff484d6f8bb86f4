// What the finder finds: actions, what is in the project, marks, recordings, projects, programs of the
// desktop.
#include "app/shell/main_window.h"

#include "app/look/tokens.h"
#include "app/session/background.h"
#include "core/sentences/sentence.h"

#include <QApplication>
#include <QFileInfo>
#include <QStyle>

namespace pipit::app
{

void MainWindow::findInProject(std::vector<Found> &all)
{
    const Project &p = session_.document.project();
    const auto go = [this](const Selected &s) {
        return [this, s] {
            show(Board);
            session_.selection.select(s);
        };
    };
    for (const QString &name : p.objectNames())
        all.push_back({name, p.classOf(name), name, [this, go, name] {
                           go({name, {}, {}})();
                           board_->outline()->objects()->setFocus();
                       }});
    for (const Handler &h : p.handlers)
        all.push_back({h.name, "handler, " + shapeSentence(h.shape), h.name, [this, name = h.name] {
                           show(Board);
                           session_.selection.select({{}, {}, name});
                           board_->drawer()->openHandler(name);
                       }});
    for (const Connection &c : p.connections)
        all.push_back({sentenceFor(c), "connection", c.id, go({c.from, c.id, c.to})});
    const QString selected = session_.selection.now().object;
    for (const Row &offer : board_->outline()->offers()->rowModel()->rows())
        if (!selected.isEmpty())
            all.push_back({selected + "." + offer.key, "offer", selected + "." + offer.key,
                           [this, selected, key = offer.key] {
                               show(Board);
                               board_->beginLine(selected, key);
                           }});
    for (const QString &file : session_.document.playFiles())
        all.push_back({QFileInfo(file).completeBaseName(), "play", QFileInfo(file).fileName(), [this, file] {
                           show(Plays);
                           plays_->choose(file);
                       }});
}

void MainWindow::findEverything(std::vector<Found> &all)
{
    for (const Action &a : actions_->all())
        all.push_back({a.words, actions_->keyText(a), a.id, [this, id = a.id] { actions_->trigger(id); }});
    if (session_.document.isOpen())
        findInProject(all);
    for (const auto &[span, mark] : session_.bookmarks.all())
        all.push_back({mark.note.isEmpty() ? QString("A marked moment") : mark.note,
                       "bookmark",
                       {},
                       [this, span = span] {
                           show(Trace);
                           trace_->showSpan(span);
                       }});
    for (const auto &[kind, tail] : {std::pair{"recordings", "recording"}, {"projects", "project"}})
        for (const QString &path : remembered_.recent(kind))
            all.push_back({QFileInfo(path).fileName(), tail, path, [this, path] { session_.open(path); }});
    for (const PastRun &r : session_.runs.past())
        if (!r.folder.isEmpty())
            all.push_back(
                {r.label, "recording", r.folder, [this, folder = r.folder] { session_.open(folder); }});
}

void MainWindow::showFinder()
{
    std::vector<Found> all;
    findEverything(all);
    finder_->open(std::move(all));
}

// The desktop's own entries that are Qt 6 programs.
void MainWindow::findInDesktop()
{
    Q_EMIT session_.messages.progress("Looking for programs");
    inBackground(
        this, [] { return desktopEntries(); },
        [this](const QList<DesktopEntry> &entries) {
            Q_EMIT session_.messages.progress({});
            if (entries.isEmpty()) {
                tell("The desktop's menu has no program that uses Qt 6 Widgets.", false);
                return;
            }
            std::vector<Found> all;
            for (const DesktopEntry &e : entries)
                all.push_back({e.name, e.command, e.command, [this, command = e.command] {
                                   start_->programLine()->setText(command);
                                   start_->programLine()->setFocus();
                               }});
            finder_->open(std::move(all));
        });
}

} // namespace pipit::app
