#include "app/board/outline.h"

#include "core/catalog/catalog.h"
#include "core/catalog/orders.h"
#include "core/findings/names.h"
#include "core/project/expand.h"
#include "core/project/selector.h"
#include "core/project/values.h"
#include "core/sentences/sentence.h"

#include <QApplication>
#include <QClipboard>
#include <QCompleter>
#include <QRegularExpression>
#include <QShortcut>
#include <QVBoxLayout>

namespace pipit::app
{

namespace
{

QLineEdit *makeLine(const QString &name, const QString &placeholder, const QString &accessible,
                    QStringListModel *words)
{
    auto *line = new QLineEdit;
    line->setObjectName(name);
    line->setPlaceholderText(placeholder);
    line->setAccessibleName(accessible);
    auto *completer = new QCompleter(words, line);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setMaxVisibleItems(10);
    line->setCompleter(completer);
    return line;
}

} // namespace

Outline::Outline(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    makeLists();
    makeLines();
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto *lines = new QVBoxLayout;
    lines->setContentsMargins(padding, 6, padding, 6);
    lines->setSpacing(6);
    lines->addWidget(add_);
    lines->addWidget(addNote_);
    lines->addWidget(value_);
    lines->addWidget(valueNote_);
    layout->addWidget(objects_, 3);
    layout->addLayout(lines);
    layout->addWidget(offersTitle_);
    layout->addWidget(offers_, 2);
    hear();
    makeKeys();
}

void Outline::makeLists()
{
    objects_ = new RowList("Widgets and other sources", 0, 0);
    objects_->setEmptyText("The window's widgets appear here, one sentence each. Type the first one below.");
    objects_->setObjectName("outline");
    objects_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    offersTitle_ = new QLabel;
    offersTitle_->setFont(smallFont());
    offersTitle_->setContentsMargins(padding, 4, padding, 4);
    offersTitle_->setWordWrap(true);
    offersTitle_->hide();
    offers_ = new RowList("Signals and events of the selection", 0, 64);
    offers_->setObjectName("offers");
    offers_->hide();
    objects_->setOpensByDoubleClick(false);
}

void Outline::makeLines()
{
    addWords_ = new QStringListModel(this);
    valueWords_ = new QStringListModel(this);
    add_ = makeLine("addLine", "Add (Alt+A): button, its name, its text", "Add a widget", addWords_);
    value_ = makeLine("valueLine", "Set (Alt+S): a property and its value", "Set a property of the selection",
                      valueWords_);
    value_->hide();
    addNote_ = new NoteLine;
    valueNote_ = new NoteLine;
    QStringList words;
    for (const PlainWord &w : plainWords())
        words << w.words + ' ';
    addWords_->setStringList(words);
}

void Outline::hear()
{
    connect(&session_->document, &Document::changed, this, &Outline::showProject);
    connect(&session_->selection, &Selection::changed, this, &Outline::takeSelection);
    connect(objects_, &RowList::chosen, this, [this](const QString &key, int) {
        session_->selection.select({key, {}, {}});
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
            Q_EMIT offerChosen(session_->selection.now().object, key);
    });
    connect(add_, &QLineEdit::returnPressed, this, &Outline::add);
    connect(add_, &QLineEdit::textChanged, this, &Outline::lookAtName);
    connect(value_, &QLineEdit::returnPressed, this, &Outline::setValue);
    connect(value_, &QLineEdit::textEdited, this, &Outline::completeValue);
    connect(value_, &QLineEdit::textChanged, valueNote_, [this] { valueNote_->clearNote(); });
    objects_->viewport()->installEventFilter(this);
    offers_->viewport()->installEventFilter(this);
}

void Outline::makeKeys()
{
    const auto key = [this](const QKeySequence &keys, auto what) {
        auto *s = new QShortcut(keys, objects_);
        s->setContext(Qt::WidgetShortcut);
        connect(s, &QShortcut::activated, this, what);
    };
    key(QKeySequence::Delete, [this] { removeSelected(); });
    key(QKeySequence::Copy, [this] { copy(); });
    key(QKeySequence::Cut, [this] { cut(); });
    key(QKeySequence::Paste, [this] { paste(); });
    key(QKeySequence("Alt+Up"), [this] { moveSelected(Step::Up); });
    key(QKeySequence("Alt+Down"), [this] { moveSelected(Step::Down); });
    key(QKeySequence("Alt+Right"), [this] { moveSelected(Step::In); });
    key(QKeySequence("Alt+Left"), [this] { moveSelected(Step::Out); });
    key(QKeySequence("Space"), [this] { Q_EMIT picked(session_->selection.now().object); });
    key(QKeySequence("F2"), [this] { editSentence(); });
    connect(objects_, &QListView::doubleClicked, this, &Outline::editSentence);
}

// Made anew only where the widget changed.
QString Outline::sentenceOf(const WidgetNode &w)
{
    Said &said = sentences_[w.name];
    if (said.text.isEmpty() || said.className != w.className || said.layout != w.layout ||
        said.properties != w.properties)
        said = {w.className, w.layout, w.properties, widgetSentence(w)};
    return said.text;
}

void Outline::showProject()
{
    if (!session_->document.isOpen())
        return;
    const Tokens &t = Tokens::current();
    const Project &p = session_->document.project();
    std::vector<Row> rows;
    const std::function<void(const WidgetNode &, int)> take = [&](const WidgetNode &w, int depth) {
        Row r;
        r.key = w.name;
        r.text = sentenceOf(w);
        r.depth = std::min(depth, 6);
        rows.push_back(r);
        for (const WidgetNode &c : w.children)
            take(c, depth + 1);
    };
    for (const WindowNode &w : p.windows) {
        const std::size_t first = rows.size();
        take(w.root, 0);
        if (w.root.className == "QWidget")
            rows[first].text = widgetSentence(w.root, true);
        for (const TimerNode &timer : w.timers) {
            Row r;
            r.key = timer.name;
            r.text = timerSentence(timer);
            r.mark = t.ochre;
            r.shape = Mark::Timer;
            rows.push_back(r);
        }
        for (const ObjectNode &o : w.objects) {
            Row r;
            r.key = o.name;
            r.text = objectSentence(o);
            r.mark = t.edge;
            r.shape = Mark::Signal;
            rows.push_back(r);
        }
    }
    for (const Handler &h : p.handlers)
        if (h.shape != Shape::OneGo) {
            const bool steps = h.shape == Shape::Steps;
            Row r;
            r.key = jobName(h);
            r.text = r.key + (steps ? ", the steps of " : ", the job of ") + h.name;
            r.mark = steps ? t.ochre : t.teal;
            r.shape = steps ? Mark::Timer : Mark::Background;
            rows.push_back(r);
        }
    objects_->rowModel()->setRows(std::move(rows));
    takeSelection();
}

QStringList Outline::selectedNames() const
{
    QStringList names;
    for (const QModelIndex &i : objects_->selectionModel()->selectedIndexes())
        if (const Row *r = objects_->rowModel()->row(i))
            names << r->key;
    if (names.isEmpty() && !session_->selection.now().object.isEmpty())
        names << session_->selection.now().object;
    return names;
}

void Outline::takeSelection()
{
    const QString object = session_->selection.now().object;
    if (objects_->currentKey() != object)
        objects_->selectKey(object);
    showOffers();
}

void Outline::showOffers()
{
    const QString object = session_->selection.now().object;
    const QString cls =
        session_->document.isOpen() ? session_->document.project().classOf(object) : QString();
    const bool shown = !cls.isEmpty();
    offers_->setVisible(shown);
    offersTitle_->setVisible(shown);
    value_->setVisible(shown);
    if (!shown)
        return;
    const Tokens &t = Tokens::current();
    offersTitle_->setText(object + " offers these. Return connects one.");
    says_.clear();
    std::vector<Row> rows;
    const Catalog &catalog = Catalog::get();
    const QStringList lineage = catalog.lineage(cls);
    const OwnClass *own = session_->document.project().ownClassOf(object);
    for (const SignalEntry &s : own ? own->signalList : QList<SignalEntry>()) {
        Row r;
        r.key = r.text = s.name();
        r.tail = "your own";
        says_.insert(r.key, s.signature + ". " + s.sentence);
        r.mark = t.ink;
        r.shape = Mark::Signal;
        rows.push_back(r);
    }
    for (const SignalEntry &s : catalog.signalsOf(cls)) {
        Row r;
        const bool overloaded = catalog.signalsNamed(cls, s.name()).size() > 1;
        r.key = overloaded ? s.signature : s.name();
        const bool inherited = s.owner != cls;
        r.text = r.key;
        r.tail = inherited ? "inherited" : QString();
        says_.insert(r.key, QStringList{s.sentence, s.often, orderSentence(lineage, s.name()), s.mistake,
                                        "Calls: " + callbackOf(s)}
                                .join(' ')
                                .simplified());
        r.mark = inherited ? t.edge : t.ink;
        r.shape = Mark::Signal;
        rows.push_back(r);
    }
    for (const EventEntry &e : catalog.eventsOf(cls)) {
        Row r;
        r.key = e.words;
        r.text = e.words;
        r.tail = "event";
        says_.insert(r.key, e.sentence + " Handled: " + e.handled.left(1).toLower() + e.handled.mid(1) +
                                (e.carries().isEmpty() ? QString() : " It carries " + e.carries() + '.') +
                                " Calls: " + callbackOf(e, cls));
        r.mark = t.ink;
        r.shape = Mark::Event;
        rows.push_back(r);
    }
    offers_->rowModel()->setRows(std::move(rows));
}

// Into the selected container, or after the selected widget.
std::pair<QString, int> Outline::placeForNew() const
{
    const Project &p = session_->document.project();
    const QString selected = session_->selection.now().object;
    const WidgetNode *w = p.widget(selected);
    if (!w)
        return {".", -1};
    const WidgetNode *above = p.parentOf(selected);
    if (!above || (Catalog::holds(w->knownClass()) && w->textOf("frameShape") != "HLine"))
        return {selected, -1};
    for (int i = 0; i < above->children.size(); ++i)
        if (above->children[i].name == selected)
            return {above->name, i + 1};
    return {above->name, -1};
}

void Outline::add()
{
    auto request = parseAddLine(add_->text());
    if (!request) {
        addNote_->saysWrong(request.problem().text());
        return;
    }
    auto [parent, index] = placeForNew();
    if (!request->parent.isEmpty()) {
        parent = request->parent;
        index = -1;
    }
    QStringList made;
    std::optional<Problem> wrong;
    session_->document.edit([&, parent = parent, index = index](Workspace &w) -> Outcome {
        if (auto names = w.add(*request, parent, index))
            made = *names;
        else
            wrong = names.problem();
        return Done{};
    });
    if (wrong) {
        addNote_->saysWrong(wrong->text());
        return;
    }
    add_->clear();
    session_->selection.select({made.last(), {}, {}});
    if (made.size() > 1)
        Q_EMIT session_->messages.note(QStringLiteral("Added %1.").arg(made.size()));
}

void Outline::lookAtName(const QString &typed)
{
    QStringList notes;
    if (auto request = parseAddLine(typed); request && session_->document.isOpen())
        if (auto names = expandName(request->name))
            for (const Expansion &x : names->mid(0, 20))
                if (notes.isEmpty())
                    notes = nameNotes(session_->document.project(), x.name);
    addNote_->say(notes.join(' '));
}

void Outline::setValue()
{
    static const QRegularExpression name("^name\\s+(\\w+)$"), all("^rename\\s+(\\S+)\\s+to\\s+(\\S+)$");
    const QString line = value_->text().trimmed(), object = session_->selection.now().object;
    if (const auto m = name.match(line); m.hasMatch()) {
        Q_EMIT renameAsked(object, m.captured(1), false);
        value_->clear();
        return;
    }
    if (const auto m = all.match(line); m.hasMatch()) {
        Q_EMIT renameAsked(m.captured(1), m.captured(2), true);
        value_->clear();
        return;
    }
    auto settings = parseSetLine(session_->document.project(), line, object);
    if (!settings) {
        valueNote_->saysWrong(settings.problem().text());
        return;
    }
    // What was typed without a subject is meant for all that is selected.
    const QStringList chosen = selectedNames();
    QList<SetRequest> every;
    for (const SetRequest &s : std::as_const(*settings))
        for (const QString &each : s.subject == object && chosen.size() > 1 ? chosen : QStringList{s.subject})
            every.append({each, s.property, s.text});
    qsizetype count = 0;
    std::optional<Problem> wrong;
    session_->document.edit([&](Workspace &w) -> Outcome {
        if (auto done = w.applySettings(every))
            count = done->size();
        else
            wrong = done.problem();
        return Done{};
    });
    if (wrong) {
        valueNote_->saysWrong(wrong->text());
        return;
    }
    value_->clear();
    if (count > 1)
        Q_EMIT session_->messages.note(QStringLiteral("Set for %1.").arg(count));
}

void Outline::completeValue(const QString &typed)
{
    QStringList words;
    const QString cls = session_->document.project().classOf(session_->selection.now().object);
    for (const PropertyEntry &p : Catalog::get().propertiesOf(cls)) {
        if (!p.keys.isEmpty() && typed.startsWith(p.name))
            for (const QString &key : p.keys)
                words << p.name + ' ' + key;
        else if (p.type == "bool" && typed.startsWith(p.name))
            words << p.name + " true" << p.name + " false";
        words << p.name + ' ' << "reset " + p.name;
    }
    words << "name "
          << "layout column"
          << "layout row"
          << "layout grid"
          << "layout labelled";
    words.removeDuplicates();
    valueWords_->setStringList(words);
}

void Outline::removeSelected()
{
    const QStringList names = selectedNames();
    if (names.isEmpty())
        return;
    const WidgetNode *above = session_->document.project().parentOf(names.first());
    const QString next = above ? above->name : QString();
    if (session_->document.remove(names))
        session_->selection.select({next, {}, {}});
}

void Outline::copy()
{
    const QByteArray text = session_->document.workspace().copy(selectedNames());
    if (!text.isEmpty())
        QApplication::clipboard()->setText(QString::fromUtf8(text));
}

void Outline::cut()
{
    copy();
    removeSelected();
}

void Outline::paste()
{
    const auto [parent, index] = placeForNew();
    QStringList made;
    const bool ok = session_->document.edit([&, parent = parent, index = index](Workspace &w) -> Outcome {
        auto names = w.paste(QApplication::clipboard()->text().toUtf8(), parent, index);
        if (!names)
            return names.problem();
        made = *names;
        return Done{};
    });
    if (ok && !made.isEmpty())
        session_->selection.select({made.last(), {}, {}});
}

void Outline::moveSelected(Step step)
{
    const Project &p = session_->document.project();
    const QString name = session_->selection.now().object;
    const WidgetNode *above = p.parentOf(name);
    if (!above)
        return;
    int at = 0;
    while (above->children[at].name != name)
        ++at;
    QString parent = above->name;
    int index = -1;
    if (step == Step::Up || step == Step::Down) {
        index = step == Step::Up ? at - 1 : at + 2;
        if (index < 0 || index > above->children.size())
            return;
    } else if (step == Step::In) {
        if (at == 0 || !Catalog::holds(above->children[at - 1].knownClass()))
            return;
        parent = above->children[at - 1].name;
    } else {
        const WidgetNode *higher = p.parentOf(above->name);
        if (!higher)
            return;
        parent = higher->name;
        for (int i = 0; i < higher->children.size(); ++i)
            if (higher->children[i].name == above->name)
                index = i + 1;
    }
    session_->document.edit([&](Workspace &w) { return w.move(name, parent, index); });
    objects_->selectKey({});
    objects_->selectKey(name);
}

} // namespace pipit::app
