#include "link/facts.h"
#include "recorder/hands/captions.h"
#include "recorder/hands/snapshot.h"
#include "recorder/hands/sweep.h"
#include "recorder/shim/modules.h"

#include <QtCore/QRandomGenerator>
#include <QtCore/QTimer>
#include <QtCore/private/qobject_p.h>
#include <QtGui/QAction>
#include <QtGui/QKeySequence>
#include <QtGui/QShortcut>
#include <QtGui/QTextDocument>
#include <QtGui/QValidator>
#include <QtGui/private/qguiapplication_p.h>
#include <QtWidgets/QAbstractButton>
#include <QtWidgets/QAbstractItemView>
#include <QtWidgets/QAbstractSlider>
#include <QtWidgets/QApplication>
#include <QtWidgets/QComboBox>
#include <QtWidgets/QDoubleSpinBox>
#include <QtWidgets/QGroupBox>
#include <QtWidgets/QLabel>
#include <QtWidgets/QLineEdit>
#include <QtWidgets/QPlainTextEdit>
#include <QtWidgets/QProgressBar>
#include <QtWidgets/QSpinBox>
#include <QtWidgets/QStackedWidget>
#include <QtWidgets/QStatusBar>
#include <QtWidgets/QTabBar>
#include <QtWidgets/QTextEdit>
#include <QtWidgets/private/qwidget_p.h>

#include <sys/random.h>
#include <unordered_map>

namespace pipit::recorder
{

namespace
{

// Whether its class is the program's own, told by its table of virtual functions: a class without a
// meta-object of its own has that too.
bool isOfProgram(const QObject *o)
{
    static std::unordered_map<const void *, bool> known; // main thread
    const void *table = *reinterpret_cast<const void *const *>(o);
    const auto it = known.find(table);
    if (it != known.end())
        return it->second;
    pipit_module module;
    const bool toolkits =
        pipit_module_at(reinterpret_cast<std::uintptr_t>(table), &module) && pipit_is_toolkit(module.file);
    return known.emplace(table, !toolkits).first->second;
}

// Of this process alone, and told nobody: what a field holds cannot be found out by trying words.
std::size_t salt()
{
    static const std::size_t one = [] {
        std::size_t bytes = 0;
        if (getrandom(&bytes, sizeof bytes, GRND_NONBLOCK) != ssize_t(sizeof bytes))
            bytes = std::size_t(QRandomGenerator::global()->generate64());
        return bytes;
    }();
    return one;
}

std::size_t hashed(const QString &text)
{
    return text.isEmpty() ? 0 : qHash(text, salt()) | 1;
}

bool isBlocked(const QWidget *top)
{
    QWindow *by = nullptr;
    return top->windowHandle() &&
           QGuiApplicationPrivate::instance()->isWindowBlocked(top->windowHandle(), &by);
}

std::uint32_t widgetBits(const QWidget *w)
{
    using namespace link;
    std::uint32_t is = IsWidget;
    const auto set = [&is](bool yes, std::uint32_t bit) { is |= yes ? bit : 0; };
    set(w->isVisible(), IsVisible);
    set(w->testAttribute(Qt::WA_WState_Hidden) && w->testAttribute(Qt::WA_WState_ExplicitShowHide),
        IsHiddenItself);
    set(w->isEnabled(), IsEnabled);
    set(w->testAttribute(Qt::WA_ForceDisabled), IsDisabledItself);
    set(w->isWindow(), IsWindow);
    set(w->testAttribute(Qt::WA_TransparentForMouseEvents), IsTransparent);
    set(w->acceptDrops(), TakesDrops);
    set(w->hasFocus(), HasFocus);
    set(w->hasMouseTracking(), TracksMouse);
    set(!w->updatesEnabled(), UpdatesAreOff);
    const auto *d = QWidgetPrivate::get(w);
    set(d->extra && d->extra->hasMask, HasMask);
    if (w->isWindow()) {
        set(w->windowModality() != Qt::NonModal, IsModal);
        set(w->windowType() == Qt::Popup, IsPopup);
        set(w->isActiveWindow(), IsActiveWindow);
        set(isBlocked(w), IsBlocked);
    }
    set(w == QWidget::mouseGrabber(), GrabsMouse);
    set(w == QWidget::keyboardGrabber(), GrabsKeyboard);
    return is;
}

void readText(StateNumbers &n, const QString &text, bool isCaption)
{
    n.text = hashed(text);
    n.caption = isCaption && captionsAllowed ? 1 : 0;
}

void readValue(StateNumbers &n, long long value)
{
    // Masked, it only tells that it changed.
    n.value = captionsAllowed ? value : (long long)(qHash(value, salt()) | 1);
    n.hasValue = true;
}

// What it shows or holds. Of a class's own functions only those that it cannot override.
void readContents(QWidget *w, StateNumbers &n)
{
    using namespace link;
    if (const auto *b = qobject_cast<QAbstractButton *>(w)) {
        readText(n, b->text(), true);
        n.is |= IsButton | (b->isCheckable() ? IsCheckable : 0u) | (b->isChecked() ? IsChecked : 0u) |
                (b->autoRepeat() ? IsAutoRepeat : 0u);
        n.keys = b->shortcut().isEmpty() ? 0 : qHash(b->shortcut());
    } else if (const auto *l = qobject_cast<QLabel *>(w)) {
        readText(n, l->text(), true);
        n.value = (long long)(l->pixmap(Qt::ReturnByValue).cacheKey());
    } else if (const auto *e = qobject_cast<QLineEdit *>(w)) {
        readText(n, e->text(), false);
        n.is |= TakesText | (e->isReadOnly() ? IsReadOnly : 0u);
        n.limits = reinterpret_cast<std::size_t>(e->validator()) ^ std::size_t(e->maxLength()) ^
                   hashed(e->inputMask());
    } else if (const auto *p = qobject_cast<QPlainTextEdit *>(w)) {
        n.text = std::size_t(p->document()->revision()) + 1;
        n.is |= TakesText | (p->isReadOnly() ? IsReadOnly : 0u);
    } else if (const auto *t = qobject_cast<QTextEdit *>(w)) {
        n.text = std::size_t(t->document()->revision()) + 1;
        n.is |= TakesText | (t->isReadOnly() ? IsReadOnly : 0u);
    } else if (const auto *s = qobject_cast<QAbstractSlider *>(w)) {
        readValue(n, s->value());
    } else if (const auto *s = qobject_cast<QSpinBox *>(w)) {
        readValue(n, s->value());
        n.is |= TakesText | (s->isReadOnly() ? IsReadOnly : 0u);
    } else if (const auto *s = qobject_cast<QDoubleSpinBox *>(w)) {
        readValue(n, (long long)(s->value() * 1000));
        n.is |= TakesText | (s->isReadOnly() ? IsReadOnly : 0u);
    } else if (const auto *b = qobject_cast<QProgressBar *>(w)) {
        readValue(n, b->value());
    } else if (const auto *c = qobject_cast<QComboBox *>(w)) {
        readValue(n, c->currentIndex());
        n.model = c->model();
    } else if (const auto *g = qobject_cast<QGroupBox *>(w)) {
        readText(n, g->title(), true);
        n.is |= (g->isCheckable() ? IsCheckable : 0u) | (g->isChecked() ? IsChecked : 0u);
    } else if (const auto *b = qobject_cast<QStatusBar *>(w)) {
        readText(n, b->currentMessage(), true);
    } else if (const auto *b = qobject_cast<QTabBar *>(w)) {
        readValue(n, b->currentIndex());
    } else if (const auto *k = qobject_cast<QStackedWidget *>(w)) {
        readValue(n, k->currentIndex());
    } else if (const auto *v = qobject_cast<QAbstractItemView *>(w)) {
        n.model = v->model();
        n.is |= IsView | (v->dragEnabled() ? DragsAway : 0u);
    } else if (w->isWindow()) {
        readText(n, w->windowTitle(), true);
    }
}

void readWidget(QWidget *w, StateNumbers &n)
{
    n.is = widgetBits(w);
    const QRect at = w->geometry();
    n.x = at.x();
    n.y = at.y();
    n.width = at.width();
    n.height = at.height();
    n.focus = int(w->focusPolicy());
    n.menu = int(w->contextMenuPolicy());
    n.proxy = w->focusProxy();
    readContents(w, n);
}

QStringList keysOf(const QObject *o)
{
    QStringList keys;
    if (const auto *action = qobject_cast<const QAction *>(o))
        for (const QKeySequence &k : action->shortcuts())
            keys << k.toString();
    else if (const auto *shortcut = qobject_cast<const QShortcut *>(o))
        for (const QKeySequence &k : shortcut->keys())
            keys << k.toString();
    else if (const auto *button = qobject_cast<const QAbstractButton *>(o))
        keys << button->shortcut().toString();
    keys.removeAll(QString());
    return keys;
}

void readOther(QObject *o, StateNumbers &n)
{
    using namespace link;
    if (const auto *a = qobject_cast<QAction *>(o)) {
        n.is |= IsAction | (a->isEnabled() ? IsEnabled : 0u) | (a->isVisible() ? IsVisible : 0u) |
                (a->isCheckable() ? IsCheckable : 0u) | (a->isChecked() ? IsChecked : 0u);
        n.context = int(a->shortcutContext());
        readText(n, a->text(), true);
        for (const QKeySequence &k : a->shortcuts())
            n.keys = n.keys * 31 + qHash(k);
        for (const QObject *on : a->associatedObjects())
            n.keys = n.keys * 31 + reinterpret_cast<std::size_t>(on);
    } else if (const auto *s = qobject_cast<QShortcut *>(o)) {
        n.is |= IsShortcut | (s->isEnabled() ? IsEnabled : 0u);
        n.context = int(s->context());
        for (const QKeySequence &k : s->keys())
            n.keys = n.keys * 31 + qHash(k);
    } else if (const auto *t = qobject_cast<QTimer *>(o)) {
        n.is |= IsTimer | (t->isActive() ? IsRunning : 0u) | (t->isSingleShot() ? IsSingleShot : 0u);
        n.every = t->interval();
    }
}

QList<QObject *> filtersOf(QObject *o)
{
    QList<QObject *> all;
    if (const auto *extra = QObjectPrivate::get(o)->extraData)
        for (const QPointer<QObject> &f : extra->eventFilters)
            if (f)
                all << f.data();
    return all;
}

// What a field takes, where that is not everything.
QStringList limitsOf(const QObject *o)
{
    constexpr int asAnyField = 32767;
    QStringList limits;
    if (const auto *e = qobject_cast<const QLineEdit *>(o)) {
        if (e->validator())
            limits << QString::fromLatin1(e->validator()->metaObject()->className());
        if (!e->inputMask().isEmpty())
            limits << QStringLiteral("input mask");
        if (e->maxLength() != asAnyField)
            limits << QStringLiteral("at most %1 characters").arg(e->maxLength());
    }
    return limits;
}

std::string hex(const void *p)
{
    char text[24];
    std::snprintf(text, sizeof text, "%llx",
                  static_cast<unsigned long long>(reinterpret_cast<std::uintptr_t>(p)));
    return text;
}

void addCaption(std::string &to, QObject *o)
{
    QString says;
    if (const auto *b = qobject_cast<QAbstractButton *>(o))
        says = b->text();
    else if (const auto *l = qobject_cast<QLabel *>(o))
        says = l->text();
    else if (const auto *g = qobject_cast<QGroupBox *>(o))
        says = g->title();
    else if (const auto *s = qobject_cast<QStatusBar *>(o))
        says = s->currentMessage();
    else if (const auto *a = qobject_cast<QAction *>(o))
        says = a->text();
    else if (const auto *w = qobject_cast<QWidget *>(o))
        says = w->windowTitle();
    to += "\nsays=" + withoutMnemonic(says).left(80).replace(u'\n', u' ').toStdString();
}

} // namespace

bool isTold(const QObject *o)
{
    return o->isWidgetType() || qobject_cast<const QAction *>(o) || qobject_cast<const QShortcut *>(o) ||
           qobject_cast<const QTimer *>(o);
}

StateNumbers numbersOf(QObject *o, int z)
{
    StateNumbers n;
    n.z = z;
    if (o->isWidgetType())
        readWidget(static_cast<QWidget *>(o), n);
    else
        readOther(o, n);
    if (o->signalsBlocked())
        n.is |= link::SignalsAreBlocked;
    n.in = o->parent();
    n.own = isOfProgram(o);
    for (const QObject *f : filtersOf(o))
        n.filters = n.filters * 31 + reinterpret_cast<std::size_t>(f);
    return n;
}

std::string stateText(QObject *o, const StateNumbers &n)
{
    char is[24];
    std::snprintf(is, sizeof is, "%x", n.is);
    std::string text = std::string("is=") + is + "\nin=" + hex(n.in);
    const auto add = [&text](const char *key, const std::string &value) {
        text += std::string("\n") + key + '=' + value;
    };
    const auto number = [](auto v) { return std::to_string(v); };
    if (n.is & link::IsWidget) {
        add("at", number(n.x) + ',' + number(n.y) + ',' + number(n.width) + ',' + number(n.height));
        add("z", number(n.z));
        add("focus", number(n.focus));
        add("menu", number(n.menu));
        if (n.proxy)
            add("proxy", hex(n.proxy));
    }
    if (n.own)
        add("own", "1");
    if (n.text)
        add("text", number(n.text));
    if (n.hasValue || n.value)
        add("value", number(n.value));
    if (n.model)
        add("model", hex(n.model));
    if (const QStringList keys = keysOf(o); !keys.isEmpty())
        add("keys", keys.join(u'\t').toStdString());
    if (const QStringList limits = limitsOf(o); !limits.isEmpty())
        add("limits", limits.join(u'\t').toStdString());
    if (n.is & (link::IsAction | link::IsShortcut))
        add("context", number(n.context));
    if (const auto *a = qobject_cast<QAction *>(o)) {
        std::string on;
        for (const QObject *w : a->associatedObjects())
            on += (on.empty() ? "" : "\t") + hex(w);
        add("on", on);
    }
    if (n.is & link::IsTimer)
        add("every", number(n.every));
    if (n.filters) {
        std::string filters;
        for (const QObject *f : filtersOf(o))
            filters += (filters.empty() ? "" : "\t") + hex(f);
        add("filters", filters);
    }
    if (n.caption)
        addCaption(text, o);
    return text;
}

} // namespace pipit::recorder
