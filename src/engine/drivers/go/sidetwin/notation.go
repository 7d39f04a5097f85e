//go:build go1.18

package sidetwin

import (
	"bytes"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/big"
	"reflect"
	"sort"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"
	"unsafe"
)

// Go values to and from Side Twin's value notation (docs/formats.md, sections 3, 17 and 20).

const (
	safe     = 1<<53 - 1
	maxItems = 10_000
	maxDepth = 150
)

// misfit is a value that does not fit what is declared.
type misfit string

var (
	timeType   = reflect.TypeOf(time.Time{})
	bigIntType = reflect.TypeOf(big.Int{})
	emptyType  = reflect.TypeOf(struct{}{})
)

func encode(value reflect.Value) any {
	return encodeAt(value, nil)
}

func encodeAt(value reflect.Value, path []unsafe.Pointer) any {
	if !value.IsValid() {
		return nil
	}
	if len(path) > maxDepth {
		return object{"~opaque": fmt.Sprintf("<nested deeper than %d>", maxDepth)}
	}
	value = readable(value)
	if problem, isError := asError(value); isError {
		return object{"~obj": kindOf(problem), "fields": object{"message": problem.Error()}}
	}
	switch value.Kind() {
	case reflect.Bool:
		return value.Bool()
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64:
		return whole(big.NewInt(value.Int()))
	case reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64, reflect.Uintptr:
		return whole(new(big.Int).SetUint64(value.Uint()))
	case reflect.Float32, reflect.Float64:
		return floating(value.Float())
	case reflect.Complex64, reflect.Complex128:
		number := value.Complex()
		return object{"~obj": "complex", "fields": object{"real": floating(real(number)), "imag": floating(imag(number))}}
	case reflect.String:
		if !utf8.ValidString(value.String()) {
			return object{"~bytes": base64.StdEncoding.EncodeToString([]byte(value.String()))}
		}
		return value.String()
	case reflect.Interface:
		return encodeAt(value.Elem(), path)
	case reflect.Pointer:
		if value.IsNil() {
			return nil
		}
		for depth, known := range path {
			if known == value.UnsafePointer() {
				return object{"~ref": depth}
			}
		}
		return encodeAt(value.Elem(), append(path, value.UnsafePointer()))
	case reflect.Slice, reflect.Array:
		return encodeList(value, path)
	case reflect.Map:
		return encodeMap(value, path)
	case reflect.Struct:
		return encodeStruct(value, path)
	}
	return object{"~opaque": fmt.Sprintf("<%s>", value.Type())}
}

func asError(value reflect.Value) (error, bool) {
	if value.Kind() == reflect.Interface || !value.Type().Implements(errorType) || !value.CanInterface() {
		return nil, false
	}
	if value.Kind() == reflect.Pointer && value.IsNil() {
		return nil, false
	}
	return value.Interface().(error), true
}

// readable is the value without the protection of fields that are not exported.
func readable(value reflect.Value) reflect.Value {
	if value.CanInterface() || !value.CanAddr() {
		return value
	}
	return reflect.NewAt(value.Type(), unsafe.Pointer(value.UnsafeAddr())).Elem()
}

func writable(value reflect.Value) reflect.Value {
	return reflect.NewAt(value.Type(), unsafe.Pointer(value.UnsafeAddr())).Elem()
}

func whole(value *big.Int) any {
	if value.IsInt64() && value.Int64() <= safe && value.Int64() >= -safe {
		return json.Number(value.String())
	}
	return object{"~int": value.String()}
}

func floating(value float64) any {
	switch {
	case math.IsNaN(value):
		return object{"~num": "NaN"}
	case math.IsInf(value, 0):
		if value > 0 {
			return object{"~num": "Infinity"}
		}
		return object{"~num": "-Infinity"}
	case value == 0 && math.Signbit(value):
		return object{"~num": "-0"}
	}
	text := strconv.FormatFloat(value, 'g', -1, 64)
	if value != math.Trunc(value) {
		return json.Number(text)
	}
	if !strings.ContainsAny(text, ".e") {
		text += ".0"
	}
	return object{"~float": text}
}

func encodeList(value reflect.Value, path []unsafe.Pointer) any {
	if value.Type().Elem().Kind() == reflect.Uint8 {
		data := make([]byte, value.Len())
		reflect.Copy(reflect.ValueOf(data), value)
		return object{"~bytes": base64.StdEncoding.EncodeToString(data)}
	}
	items := []any{}
	for at := 0; at < value.Len(); at++ {
		items = append(items, encodeAt(value.Index(at), path))
	}
	return items
}

func encodeMap(value reflect.Value, path []unsafe.Pointer) any {
	if value.Type().Elem() == emptyType {
		items := []any{}
		for _, key := range value.MapKeys() {
			items = append(items, encodeAt(key, path))
		}
		sort.Slice(items, func(left, right int) bool { return encodeJSON(items[left]) < encodeJSON(items[right]) })
		return object{"~set": items}
	}
	if value.Type().Key().Kind() != reflect.String {
		pairs := []any{}
		for _, key := range value.MapKeys() {
			pairs = append(pairs, []any{encodeAt(key, path), encodeAt(value.MapIndex(key), path)})
		}
		sort.Slice(pairs, func(left, right int) bool { return encodeJSON(pairs[left]) < encodeJSON(pairs[right]) })
		return object{"~map": pairs}
	}
	fields := object{}
	for _, key := range value.MapKeys() {
		fields[key.String()] = encodeAt(value.MapIndex(key), path)
	}
	_, hasObject := fields["~obj"]
	_, hasList := fields["~list"]
	if isTagged := len(fields) == 1 && strings.HasPrefix(sortedKeys(fields)[0], "~"); isTagged || hasObject || hasList {
		return object{"~esc": fields}
	}
	return fields
}

func encodeStruct(value reflect.Value, path []unsafe.Pointer) any {
	if !value.CanAddr() {
		// Fields that are not exported can be read of what has an address.
		kept := reflect.New(value.Type()).Elem()
		kept.Set(value)
		value = kept
	}
	switch value.Type() {
	case timeType:
		return object{"~time": value.Interface().(time.Time).Format(time.RFC3339Nano)}
	case bigIntType:
		return whole(value.Addr().Interface().(*big.Int))
	}
	fields := object{}
	for at := 0; at < value.NumField(); at++ {
		fields[value.Type().Field(at).Name] = encodeAt(value.Field(at), path)
	}
	return object{"~obj": value.Type().Name(), "fields": fields}
}

// encodeJSON writes what encode gives; keys are sorted.
func encodeJSON(value any) string {
	var out bytes.Buffer
	writer := json.NewEncoder(&out)
	writer.SetEscapeHTML(false)
	if err := writer.Encode(value); err != nil {
		return `{"error":"the answer cannot be written down"}`
	}
	return strings.TrimSuffix(out.String(), "\n")
}

func parseJSON(raw json.RawMessage) any {
	reader := json.NewDecoder(bytes.NewReader(raw))
	reader.UseNumber()
	var value any
	if reader.Decode(&value) != nil {
		return nil
	}
	return value
}

func isHandle(raw json.RawMessage) bool {
	fields, isObject := parseJSON(raw).(map[string]any)
	return isObject && len(fields) == 1 && fields["~as"] != nil
}

// decoder knows the types of a package, and the objects that steps have named.
type decoder struct {
	known   *names
	objects map[string]reflect.Value
}

func shown(value any) string {
	text := encodeJSON(value)
	if len(text) > 80 {
		return text[:80] + "…"
	}
	return text
}

func (d *decoder) decode(raw any, wanted reflect.Type) reflect.Value {
	tag, body := tagOf(raw)
	if tag == "~as" {
		return d.named(fmt.Sprint(body), wanted)
	}
	if tag == "~none" {
		raw, tag = nil, ""
	}
	if tag == "~esc" {
		raw, tag = body, ""
	}
	if raw == nil {
		switch wanted.Kind() {
		case reflect.Pointer, reflect.Interface, reflect.Map, reflect.Slice, reflect.Func, reflect.Chan:
			return reflect.Zero(wanted)
		}
		panic(misfit("null is no " + wanted.String()))
	}
	if wanted.Kind() == reflect.Pointer && wanted.Elem() != bigIntType {
		made := reflect.New(wanted.Elem())
		made.Elem().Set(d.decode(raw, wanted.Elem()))
		return made
	}
	if value, isSpecial := d.special(raw, tag, body, wanted); isSpecial {
		return value
	}
	made := reflect.New(wanted).Elem()
	switch wanted.Kind() {
	case reflect.Bool:
		flag, isFlag := raw.(bool)
		mustBe(isFlag, raw, wanted)
		made.SetBool(flag)
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64:
		number := integer(raw, tag, body, wanted)
		if !number.IsInt64() || made.OverflowInt(number.Int64()) {
			panic(misfit(number.String() + " is out of the range of " + wanted.String()))
		}
		made.SetInt(number.Int64())
	case reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64, reflect.Uintptr:
		number := integer(raw, tag, body, wanted)
		if !number.IsUint64() || made.OverflowUint(number.Uint64()) {
			panic(misfit(number.String() + " is out of the range of " + wanted.String()))
		}
		made.SetUint(number.Uint64())
	case reflect.Float32, reflect.Float64:
		made.SetFloat(float(raw, tag, body, wanted))
	case reflect.String:
		text, isText := raw.(string)
		mustBe(isText, raw, wanted)
		made.SetString(text)
	case reflect.Slice, reflect.Array:
		d.list(raw, tag, body, made)
	case reflect.Map:
		d.mapping(raw, tag, body, made)
	case reflect.Struct:
		d.structure(raw, tag, made)
	case reflect.Interface:
		return d.dynamic(raw, tag, body, wanted)
	default:
		panic(misfit("a " + wanted.String() + " cannot be handed over"))
	}
	return made
}

func mustBe(fits bool, raw any, wanted reflect.Type) {
	if !fits {
		panic(misfit(shown(raw) + " is no " + wanted.String()))
	}
}

func tagOf(raw any) (string, any) {
	fields, isObject := raw.(map[string]any)
	if !isObject {
		return "", nil
	}
	for _, tag := range []string{"~num", "~int", "~float", "~dec", "~bytes", "~utf16", "~none", "~esc", "~date", "~time", "~tuple", "~list", "~set", "~map", "~obj", "~as"} {
		if body, isThere := fields[tag]; isThere {
			return tag, body
		}
	}
	return "", nil
}

func (d *decoder) named(name string, wanted reflect.Type) reflect.Value {
	found, isThere := d.objects[name]
	if !isThere {
		panic(misfit(fmt.Sprintf("no step has named an object %q", name)))
	}
	if !found.IsValid() {
		return reflect.Zero(wanted)
	}
	return receiver(found, wanted)
}

func (d *decoder) special(raw any, tag string, body any, wanted reflect.Type) (reflect.Value, bool) {
	switch wanted {
	case timeType:
		text := fmt.Sprint(body)
		for _, form := range []string{time.RFC3339Nano, "2006-01-02T15:04:05.999999999", "2006-01-02"} {
			if at, err := time.Parse(form, text); err == nil && (tag == "~time" || tag == "~date") {
				return reflect.ValueOf(at), true
			}
		}
		panic(misfit(shown(raw) + " is no time"))
	case bigIntType:
		return reflect.ValueOf(*integer(raw, tag, body, wanted)), true
	case reflect.PointerTo(bigIntType):
		return reflect.ValueOf(integer(raw, tag, body, wanted)), true
	case errorType:
		fields, _ := raw.(map[string]any)
		inner, _ := fields["fields"].(map[string]any)
		return reflect.ValueOf(errors.New(fmt.Sprint(inner["message"]))).Convert(errorType), true
	}
	if tag == "~bytes" && wanted.Kind() == reflect.Slice && wanted.Elem().Kind() == reflect.Uint8 {
		data, err := base64.StdEncoding.DecodeString(fmt.Sprint(body))
		mustBe(err == nil, raw, wanted)
		return reflect.ValueOf(data).Convert(wanted), true
	}
	return reflect.Value{}, false
}

func integer(raw any, tag string, body any, wanted reflect.Type) *big.Int {
	text := ""
	if number, isNumber := raw.(json.Number); isNumber {
		text = number.String()
	} else if tag == "~int" {
		text = fmt.Sprint(body)
	}
	number, isWhole := new(big.Int).SetString(text, 10)
	mustBe(isWhole, raw, wanted)
	return number
}

func float(raw any, tag string, body any, wanted reflect.Type) float64 {
	text := ""
	if number, isNumber := raw.(json.Number); isNumber {
		text = number.String()
	} else if tag == "~float" || tag == "~int" || tag == "~dec" || tag == "~num" {
		text = fmt.Sprint(body)
	}
	number, err := strconv.ParseFloat(text, 64)
	mustBe(err == nil, raw, wanted)
	return number
}

func (d *decoder) list(raw any, tag string, body any, made reflect.Value) {
	items, isList := raw.([]any)
	if tag == "~tuple" || tag == "~list" || tag == "~set" {
		items, isList = body.([]any)
	}
	mustBe(isList, raw, made.Type())
	if made.Kind() == reflect.Array {
		mustBe(len(items) == made.Len(), raw, made.Type())
	} else {
		made.Set(reflect.MakeSlice(made.Type(), len(items), len(items)))
	}
	for at, item := range items {
		made.Index(at).Set(d.decode(item, made.Type().Elem()))
	}
}

func (d *decoder) mapping(raw any, tag string, body any, made reflect.Value) {
	kind := made.Type()
	made.Set(reflect.MakeMap(kind))
	if tag == "~set" && kind.Elem().Size() == 0 {
		for _, item := range body.([]any) {
			made.SetMapIndex(d.decode(item, kind.Key()), reflect.Zero(kind.Elem()))
		}
		return
	}
	if tag == "~map" {
		for _, pair := range body.([]any) {
			both := pair.([]any)
			made.SetMapIndex(d.decode(both[0], kind.Key()), d.decode(both[1], kind.Elem()))
		}
		return
	}
	fields, isObject := raw.(map[string]any)
	mustBe(isObject && tag == "", raw, kind)
	for key, item := range fields {
		// Number keys equal their text.
		written := any(key)
		if kind.Key().Kind() != reflect.String {
			written = json.Number(key)
		}
		made.SetMapIndex(d.decode(written, kind.Key()), d.decode(item, kind.Elem()))
	}
}

func (d *decoder) structure(raw any, tag string, made reflect.Value) {
	fields, isObject := raw.(map[string]any)
	mustBe(isObject, raw, made.Type())
	if tag == "~obj" {
		fields, _ = fields["fields"].(map[string]any)
	}
	for name, item := range fields {
		field := fieldNamed(made, name)
		if !field.IsValid() {
			panic(misfit(made.Type().Name() + " has no field " + name))
		}
		field.Set(d.decode(item, field.Type()))
	}
}

// fieldNamed finds a field by its name, else by its name without regard to capitals and underscores.
func fieldNamed(value reflect.Value, name string) reflect.Value {
	if value.Kind() != reflect.Struct {
		return reflect.Value{}
	}
	if !value.CanAddr() {
		kept := reflect.New(value.Type()).Elem()
		kept.Set(value)
		value = kept
	}
	loose := func(text string) string { return strings.ToLower(strings.ReplaceAll(text, "_", "")) }
	found := reflect.Value{}
	for at := 0; at < value.NumField(); at++ {
		own := value.Type().Field(at).Name
		if own == name {
			return writable(value.Field(at))
		}
		if loose(own) == loose(name) {
			found = writable(value.Field(at))
		}
	}
	return found
}

// dynamic is a value for an interface: of the type that the case names, else Go's usual one.
func (d *decoder) dynamic(raw any, tag string, body any, wanted reflect.Type) reflect.Value {
	value := reflect.Value{}
	switch {
	case tag == "~obj":
		kind := d.known.types[fmt.Sprint(body)]
		if kind == nil {
			panic(misfit(fmt.Sprintf("there is no type %v", body)))
		}
		made := reflect.New(kind)
		d.structure(raw, tag, made.Elem())
		value = made
		if kind.Implements(wanted) {
			value = made.Elem()
		}
	case tag == "~bytes":
		value = d.decode(raw, reflect.TypeOf([]byte{}))
	case tag == "~date" || tag == "~time":
		value = d.decode(raw, timeType)
	case tag == "~int":
		value = d.decode(raw, reflect.PointerTo(bigIntType))
	case tag == "~float" || tag == "~num" || tag == "~dec":
		value = d.decode(raw, reflect.TypeOf(0.0))
	case tag == "~map":
		value = d.decode(raw, reflect.TypeOf(map[any]any{}))
	default:
		switch plain := raw.(type) {
		case json.Number:
			kind := reflect.TypeOf(0)
			if strings.ContainsAny(plain.String(), ".eE") {
				kind = reflect.TypeOf(0.0)
			}
			value = d.decode(raw, kind)
		case []any:
			value = d.decode(raw, reflect.TypeOf([]any{}))
		case map[string]any:
			if tag == "" {
				value = d.decode(raw, reflect.TypeOf(map[string]any{}))
			} else {
				value = d.decode(raw, reflect.TypeOf([]any{}))
			}
		default:
			value = reflect.ValueOf(raw)
		}
	}
	if !value.Type().AssignableTo(wanted) {
		panic(misfit(shown(raw) + " is no " + wanted.String()))
	}
	return value.Convert(wanted)
}
