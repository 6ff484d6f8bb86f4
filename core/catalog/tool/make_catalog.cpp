// Writes the catalog's table from the toolkit's own meta-objects. Run at build time.
//
// One line a fact: "C class base", "S signature|argument names", "L slot signature",
// "P name|type|default|enumeration keys" with a + before them for flags, "D name|default" for an
// inherited property that is otherwise in this class. Inherited members stand with the class
// that has them.
#include "core/catalog/class_headers.h"

#include <QtCore/QMetaMethod>
#include <QtCore/QMetaProperty>
#include <QtNetwork/QLocalServer>
#include <QtNetwork/QLocalSocket>
#include <QtWidgets/QApplication>

#include <cstdio>
#include <functional>

namespace
{

QHash<QByteArray, std::function<QObject *()>> makers;
QList<const QMetaObject *> classes;

void know(const QMetaObject *of)
{
    QList<const QMetaObject *> line;
    for (const QMetaObject *m = of; m; m = m->superClass())
        line.prepend(m);
    for (const QMetaObject *m : line)
        if (!classes.contains(m))
            classes.append(m);
}

template <class T> void offer()
{
    makers.insert(T::staticMetaObject.className(), [] { return new T; });
    know(&T::staticMetaObject);
}

// Not offered by the toolkit's own form data, but what people set most on a widget.
bool wantedAnyway(const QByteArray &name)
{
    return name == "minimumWidth" || name == "minimumHeight" || name == "maximumWidth" ||
           name == "maximumHeight" || name == "visible" || name == "shortcut" || name == "shortcuts";
}

QByteArray oneLine(QString s)
{
    return s.replace('\\', "\\\\").replace('\n', "\\n").replace('|', "\\p").toUtf8();
}

bool isOffered(const QMetaProperty &p)
{
    return p.isWritable() && (p.isDesignable() || wantedAnyway(p.name()));
}

QByteArray valueOf(const QMetaProperty &p, const QObject *sample)
{
    if (!sample)
        return {};
    if (!p.isEnumType())
        return oneLine(p.read(sample).toString());
    const QMetaEnum e = p.enumerator();
    return oneLine(QString::fromLatin1(e.isFlag() ? e.valueToKeys(p.read(sample).toInt())
                                                  : QByteArray(e.valueToKey(p.read(sample).toInt()))));
}

QHash<QByteArray, QByteArray> defaults; // Class::property → as the class that declares it has it

void properties(QByteArray &out, const QMetaObject *m, const QObject *sample)
{
    for (int i = m->propertyOffset(); i < m->propertyCount(); ++i) {
        const QMetaProperty p = m->property(i);
        if (!isOffered(p))
            continue;
        QByteArray keys;
        if (p.isEnumType()) {
            const QMetaEnum e = p.enumerator();
            for (int k = 0; k < e.keyCount(); ++k)
                keys += (k ? "," : "") + QByteArray(e.key(k));
            if (e.isFlag())
                keys.prepend("+,");
        }
        const QByteArray value = valueOf(p, sample);
        defaults.insert(QByteArray(m->className()) + "::" + p.name(), value);
        out += "P " + QByteArray(p.name()) + '|' + p.typeName() + '|' + value + '|' + keys + '\n';
    }
    // Inherited ones that are otherwise here.
    for (int i = 0; sample && i < m->propertyOffset(); ++i) {
        const QMetaProperty p = m->property(i);
        const QByteArray value = isOffered(p) ? valueOf(p, sample) : QByteArray();
        if (isOffered(p) &&
            value != defaults.value(QByteArray(p.enclosingMetaObject()->className()) + "::" + p.name()))
            out += "D " + QByteArray(p.name()) + '|' + value + '\n';
    }
}

void methods(QByteArray &out, const QMetaObject *m)
{
    for (int i = m->methodOffset(); i < m->methodCount(); ++i) {
        const QMetaMethod f = m->method(i);
        if (f.access() == QMetaMethod::Private || f.name().startsWith('_'))
            continue;
        if (f.methodType() == QMetaMethod::Signal)
            out += "S " + f.methodSignature() + '|' + f.parameterNames().join(',') + '\n';
        else if (f.methodType() == QMetaMethod::Slot && f.access() == QMetaMethod::Public)
            out += "L " + f.methodSignature() + '\n';
    }
}

} // namespace

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
#define OFFER(cls) offer<cls>();
#define KNOW(cls) know(&cls::staticMetaObject);
    PIPIT_CLASSES(OFFER, OFFER, KNOW)
    QByteArray out;
    for (const QMetaObject *m : std::as_const(classes)) {
        const std::unique_ptr<QObject> sample(makers.contains(m->className()) ? makers[m->className()]()
                                                                              : nullptr);
        out += "C " + QByteArray(m->className()) + ' ' +
               (m->superClass() ? m->superClass()->className() : "-") + ' ' + (sample ? "1" : "0") + '\n';
        methods(out, m);
        properties(out, m, sample.get());
    }
    FILE *f = argc > 1 ? std::fopen(argv[1], "w") : stdout;
    if (!f)
        return 2;
    std::fputs("// Made by make_catalog from the toolkit's meta-objects.\n"
               "extern const char pipitCatalogTable[];\nconst char pipitCatalogTable[] =\n",
               f);
    for (const QByteArray &line : out.split('\n')) {
        QByteArray text = line;
        text.replace('\\', "\\\\").replace('"', "\\\"");
        std::fprintf(f, "    \"%s\\n\"\n", text.constData());
    }
    std::fputs("    ;\n", f);
    return std::fclose(f) == 0 ? 0 : 2;
}
