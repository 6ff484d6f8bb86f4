#include "app/board/outline.h"

#include "core/catalog/catalog.h"
#include "core/project/sentence.h"

#include <QShortcut>
#include <QVBoxLayout>

namespace pipit::app
{

namespace
{

QString article(const QString &word)
{
    return (QStringLiteral("aeiou").contains(word.left(1)) ? "an " : "a ") + word;
}

QString said(const WidgetNode &w)
{
    for (const char *name : {"text", "title", "windowTitle", "placeholderText"})
        if (const Json *v = w.property(name); v && v->type() == Json::String && !v->toString().isEmpty())
            return " saying " + v->toString();
    return {};
}

} // namespace

Outline::Outline(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    objects_ = new RowList("Widgets and timers of the window", 0, 0);
    objects_->setEmptyText("The widgets of the window stand here, one sentence each.");
    objects_->setObjectName("outline");
    add_ = new QLineEdit;
    add_->setObjectName("addLine");
    add_->setPlaceholderText("Add: button boardButton \"Board\"");
    add_->setAccessibleName("Add a widget");
    value_ = new QLineEdit;
    value_->setObjectName("valueLine");
    value_->setPlaceholderText("Set: text=Board");
    value_->setAccessibleName("Set a property of the selected widget");
    value_->hide();
    offersTitle_ = new QLabel;
    offersTitle_->setFont(smallFont());
    offersTitle_->setContentsMargins(padding, 8, padding, 4);
    offersTitle_->setWordWrap(true);
    offersTitle_->hide();
    offers_ = new RowList("Signals and events that the selected widget offers", 0, 64);
    offers_->setObjectName("offers");
    offers_->hide();
    auto *lines = new QVBoxLayout;
    lines->setContentsMargins(padding, 6, padding, 6);
    lines->setSpacing(6);
    lines->addWidget(add_);
    lines->addWidget(value_);
    layout->addWidget(objects_, 3);
    layout->addLayout(lines);
    layout->addWidget(offersTitle_);
    layout->addWidget(offers_, 2);

    connect(session, &Session::projectChanged, this, &Outline::showProject);
    connect(session, &Session::selectionChanged, this, &Outline::takeSelection);
    connect(objects_, &RowList::chosen, this, [this](const QString &key, int) {
        session_->select({key, {}, {}});
    });
    connect(objects_, &RowList::activatedRow, this, [this](const QString &, int) {
        offers_->setFocus();
        if (!offers_->currentIndex().isValid())
            offers_->setCurrentIndex(offers_->model()->index(0, 0));
    });
    connect(offers_, &RowList::chosen, this, [this](const QString &key, int) {
        const QString says = says_.value(key);
        offersTitle_->setText(says.isEmpty() ? key + ": Return connects it." : says);
    });
    connect(offers_, &RowList::activatedRow, this, [this](const QString &key, int) {
        if (!key.isEmpty())
            Q_EMIT offerChosen(session_->selection().object, key);
    });
    connect(add_, &QLineEdit::returnPressed, this, &Outline::add);
    connect(value_, &QLineEdit::returnPressed, this, &Outline::setValue);
    auto *remove = new QShortcut(QKeySequence::Delete, objects_);
    remove->setContext(Qt::WidgetShortcut);
    connect(remove, &QShortcut::activated, this, [this] {
        const QString object = session_->selection().object;
        if (!object.isEmpty())
            session_->edit([&](Workspace &w) { return w.remove(object); });
    });
}

void Outline::showProject()
{
    if (!session_->hasProject())
        return;
    const Tokens &t = Tokens::current();
    std::vector<Row> rows;
    const std::function<void(const WidgetNode &, int)> take = [&](const WidgetNode &w, int depth) {
        Row r;
        r.key = w.name;
        r.text = w.name + ", " + article(plainWordFor(w.className)) + said(w);
        r.depth = std::min(depth, 6);
        rows.push_back(r);
        for (const WidgetNode &c : w.children)
            take(c, depth + 1);
    };
    const WindowNode &w = session_->project().windows.first();
    take(w.root, 0);
    rows.front().text = w.root.name + ", the window" + said(w.root);
    for (const TimerNode &timer : w.timers) {
        Row r;
        r.key = timer.name;
        r.text = QStringLiteral("%1, a timer every %2 ms").arg(timer.name).arg(timer.interval);
        r.mark = t.ochre;
        r.shape = Mark::Timer;
        rows.push_back(r);
    }
    objects_->rowModel()->setRows(std::move(rows));
    takeSelection();
}

void Outline::takeSelection()
{
    objects_->selectKey(session_->selection().object);
    showOffers();
}

void Outline::showOffers()
{
    const QString object = session_->selection().object;
    const QString cls = session_->hasProject() ? session_->project().classOf(object) : QString();
    const bool shown = !cls.isEmpty();
    offers_->setVisible(shown);
    offersTitle_->setVisible(shown);
    value_->setVisible(shown);
    if (!shown)
        return;
    const Tokens &t = Tokens::current();
    offersTitle_->setText(object + " offers; Return connects.");
    says_.clear();
    std::vector<Row> rows;
    const Catalog &catalog = Catalog::get();
    for (const SignalEntry &s : catalog.signalsOf(cls)) {
        Row r;
        const bool overloaded = catalog.signalsNamed(cls, s.name()).size() > 1;
        r.key = overloaded ? s.signature : s.name();
        const bool inherited = s.owner != cls;
        r.text = r.key;
        r.tail = inherited ? "inherited" : QString();
        says_.insert(r.key, (inherited ? "From " + s.owner + ". " : QString()) + s.sentence);
        r.mark = inherited ? t.edge : t.ink;
        r.shape = Mark::Signal;
        rows.push_back(r);
    }
    for (const EventEntry &e : catalog.eventsOf(cls)) {
        Row r;
        r.key = e.words;
        r.text = e.words;
        r.tail = "event";
        says_.insert(r.key, e.sentence);
        r.mark = t.ink;
        r.shape = Mark::Event;
        rows.push_back(r);
    }
    offers_->rowModel()->setRows(std::move(rows));
}

void Outline::add()
{
    auto request = parseAddLine(add_->text());
    if (!request) {
        Q_EMIT session_->problem(request.problem().text());
        return;
    }
    // Into the selected container, or beside the selected widget.
    QString parent = ".";
    const QString selected = session_->selection().object;
    const WidgetNode &root = session_->project().windows.first().root;
    session_->project().eachWidget([&](const WidgetNode &w, const WidgetNode *above) {
        if (w.name != selected || w.name == root.name)
            return;
        const bool holds = w.className == "QWidget" || w.className == "QGroupBox" || w.className == "QFrame";
        parent = holds ? w.name : above && above->name != root.name ? above->name : QStringLiteral(".");
    });
    const QString cls = Catalog::get().classFor(request->words);
    QList<Property> properties;
    if (!request->text.isEmpty())
        properties.append({cls == "QGroupBox" ? "title" : "text", Json::string(request->text)});
    if (session_->edit(
            [&](Workspace &w) { return w.addWidget(parent, request->words, request->name, properties); })) {
        add_->clear();
        session_->select({request->name, {}, {}});
    }
}

void Outline::setValue()
{
    const QString line = value_->text(), name = line.section('=', 0, 0).trimmed();
    if (!line.contains('=') || name.isEmpty()) {
        Q_EMIT session_->problem("Write a property and its value, as in text=Board.");
        return;
    }
    if (session_->edit([&](Workspace &w) {
            return w.setProperty(session_->selection().object, name, line.section('=', 1));
        }))
        value_->clear();
}

} // namespace pipit::app
