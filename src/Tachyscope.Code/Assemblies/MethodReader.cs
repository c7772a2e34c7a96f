using System.Reflection.Metadata;
using System.Reflection.Metadata.Ecma335;
using System.Reflection.PortableExecutable;
using System.Text.RegularExpressions;
using ICSharpCode.Decompiler;
using ICSharpCode.Decompiler.CSharp;
using ICSharpCode.Decompiler.Disassembler;
using ICSharpCode.Decompiler.Metadata;
using Tachyscope.Code.Listings;
using Tachyscope.Runs;

namespace Tachyscope.Code.Assemblies;

/// <summary>Reads methods of an assembly: what the C# compiler made of them.</summary>
public sealed partial class MethodReader : IDisposable
{
    private static readonly string[] s_stateMachines =
        ["AsyncStateMachineAttribute", "IteratorStateMachineAttribute", "AsyncIteratorStateMachineAttribute"];

    private readonly PEFile _file;
    private readonly MetadataReader _metadata;
    private readonly Lazy<CSharpDecompiler> _decompiler;

    /// <summary>Opens an assembly.</summary>
    /// <param name="assembly">Its path.</param>
    /// <exception cref="IOException">It cannot be read.</exception>
    /// <exception cref="BadImageFormatException">It is no assembly.</exception>
    public MethodReader(string assembly)
    {
        _file = new PEFile(assembly, PEStreamOptions.PrefetchEntireImage);
        _metadata = _file.Metadata;
        _decompiler = new(() => new CSharpDecompiler(
            _file, new UniversalAssemblyResolver(assembly, throwOnError: false, _file.DetectTargetFrameworkId()), s_plainly));
    }

    // As a compiler of the language's first version would have had it written: no enumeration, closure, state machine, pattern or
    // handler is put back into the words it was made from.
    private static readonly DecompilerSettings s_plainly = new(LanguageVersion.CSharp1)
    {
        ForEachStatement = false, UsingStatement = false, LockStatement = false, SwitchStatementOnString = false,
            SparseIntegerSwitch = false,
        ShowXmlDocumentation = false, AlwaysUseGlobal = false, ThrowOnAssemblyResolveErrors = false, FileScopedNamespaces = false,
    };

    /// <summary>A method as metadata knows it.</summary>
    /// <param name="place">The method.</param>
    /// <exception cref="IOException">Its assembly cannot be read.</exception>
    public static MethodName NameOf(MethodPlace place)
    {
        ArgumentNullException.ThrowIfNull(place);
        using var reader = new MethodReader(place.Assembly);
        return reader.NameOf(place.Token);
    }

    /// <summary>A method as metadata knows it.</summary>
    /// <param name="token">Its metadata token.</param>
    public MethodName NameOf(int token)
    {
        var method = _metadata.GetMethodDefinition(Handle(token));
        var parameters = method.DecodeSignature(new NoTypes(), null).ParameterTypes.Length;
        return new MethodName(FullName(method.GetDeclaringType()), _metadata.GetString(method.Name), parameters);
    }

    /// <summary>The methods of the assembly that a method comes to, itself first, each once: what it calls, what it makes delegates of,
    /// and the state machine it was turned into.</summary>
    /// <param name="token">Its metadata token.</param>
    /// <param name="depth">How many calls deep; 0 for itself and its state machine.</param>
    public IReadOnlyList<int> Reached(int token, int depth)
    {
        List<int> reached = [];
        HashSet<int> seen = [token];
        var next = new Queue<(int Token, int Depth)>([(token, depth)]);
        while (next.TryDequeue(out var at))
        {
            reached.Add(at.Token);
            foreach (var machine in StateMachineOf(at.Token).Where(seen.Add))
            {
                next.Enqueue((machine, at.Depth));
            }

            foreach (var called in at.Depth == 0 ? [] : Called(at.Token).Where(seen.Add))
            {
                next.Enqueue((called, at.Depth - 1));
            }
        }

        return reached;
    }

    /// <summary>A method's instructions for the runtime (IL), a line each; where it lies in the file is left out.</summary>
    /// <param name="token">Its metadata token.</param>
    public IReadOnlyList<string> Il(int token)
    {
        var output = new PlainTextOutput();
        new ReflectionDisassembler(output, CancellationToken.None).DisassembleMethod(_file, Handle(token));
        return [.. Lines(output.ToString()).Where(line => !line.TrimStart().StartsWith("//", StringComparison.Ordinal))];
    }

    /// <summary>What the compiler wrote out of a method, as C# without the sugar.</summary>
    /// <param name="token">Its metadata token.</param>
    public IReadOnlyList<string> Lowered(int token)
        => [.. Lines(NullMarks().Replace(_decompiler.Value.DecompileAsString(Handle(token)), ""))
            .SkipWhile(line => line.StartsWith("using ", StringComparison.Ordinal) || line.Length == 0)];

    /// <summary>Closes it.</summary>
    public void Dispose() => _file.Dispose();

    private static IEnumerable<string> Lines(string text)
        => text.ReplaceLineEndings("\n").TrimEnd().Split('\n').Select(line => line.TrimEnd().Replace("\t", "    "));

    private static MethodDefinitionHandle Handle(int token) => (MethodDefinitionHandle)MetadataTokens.EntityHandle(token);

    private string FullName(TypeDefinitionHandle handle)
    {
        var type = _metadata.GetTypeDefinition(handle);
        var name = _metadata.GetString(type.Name);
        return type.GetDeclaringType() is { IsNil: false } outer ? $"{FullName(outer)}+{name}"
            : type.Namespace.IsNil ? name : $"{_metadata.GetString(type.Namespace)}.{name}";
    }

    private IEnumerable<int> Called(int token)
    {
        var method = _metadata.GetMethodDefinition(Handle(token));
        if (method.RelativeVirtualAddress == 0)
        {
            yield break;
        }

        var body = _file.GetMethodBody(method.RelativeVirtualAddress).GetILReader();
        while (body.RemainingBytes > 0)
        {
            var code = ILParser.DecodeOpCode(ref body);
            if (code.GetOperandType() is not (OperandType.Method or OperandType.Tok))
            {
                ILParser.SkipOperand(ref body, code);
            }
            else if (Definition(MetadataTokens.EntityHandle(body.ReadInt32())) is { } called)
            {
                yield return called;
            }
        }
    }

    // A generic method is named by what it is made of, and that of a generic type by a reference into this very assembly.
    private int? Definition(EntityHandle handle) => handle.Kind switch
    {
        HandleKind.MethodDefinition => MetadataTokens.GetToken(handle),
        HandleKind.MethodSpecification => Definition(_metadata.GetMethodSpecification((MethodSpecificationHandle)handle).Method),
        HandleKind.MemberReference => Definition(_metadata.GetMemberReference((MemberReferenceHandle)handle)),
        _ => null,
    };

    private int? Definition(MemberReference member)
    {
        var generic = member.Parent.Kind == HandleKind.TypeSpecification
            ? _metadata.GetTypeSpecification((TypeSpecificationHandle)member.Parent).DecodeSignature(new GenericDefinition(), null) : null;
        if (generic is not { } type || member.GetKind() != MemberReferenceKind.Method)
        {
            return null;
        }

        var (name, signature) = (_metadata.GetString(member.Name), _metadata.GetBlobBytes(member.Signature));
        foreach (var handle in _metadata.GetTypeDefinition(type).GetMethods())
        {
            var method = _metadata.GetMethodDefinition(handle);
            if (_metadata.StringComparer.Equals(method.Name, name) && _metadata.GetBlobBytes(method.Signature).AsSpan()
                .SequenceEqual(signature))
            {
                return MetadataTokens.GetToken(handle);
            }
        }

        return null;
    }

    private IEnumerable<int> StateMachineOf(int token)
    {
        foreach (var handle in _metadata.GetMethodDefinition(Handle(token)).GetCustomAttributes())
        {
            var attribute = _metadata.GetCustomAttribute(handle);
            if (attribute.Constructor.Kind != HandleKind.MemberReference
                || _metadata.GetMemberReference(
                    (MemberReferenceHandle)attribute.Constructor).Parent is not { Kind: HandleKind.TypeReference } parent
                || !s_stateMachines.Contains(_metadata.GetString(_metadata.GetTypeReference((TypeReferenceHandle)parent).Name)))
            {
                continue;
            }

            // The attribute names the type, which is nested beside the method.
            var value = _metadata.GetBlobReader(attribute.Value);
            value.ReadUInt16();
            var name = value.ReadSerializedString() ?? "";
            var declaring = _metadata.GetTypeDefinition(_metadata.GetMethodDefinition(Handle(token)).GetDeclaringType());
            foreach (var nested in declaring.GetNestedTypes().Select(_metadata.GetTypeDefinition))
            {
                if (name.Split(',')[0].EndsWith($"+{_metadata.GetString(nested.Name)}", StringComparison.Ordinal))
                {
                    yield return MetadataTokens.GetToken(nested.GetMethods()
                        .First(method => _metadata.StringComparer.Equals(_metadata.GetMethodDefinition(method).Name, "MoveNext")));
                }
            }
        }
    }

    // What may be null is told to the compiler, and nothing comes of it.
    [GeneratedRegex(@"\[(?:return: )?Nullable(?:Context)?\((?:\d+|new byte\[\d*\] \{[^}]*\})\)\][ \t]*(?:\r?\n[ \t]*)?")]
    private static partial Regex NullMarks();

    /// <summary>Reads signatures for their shape only.</summary>
    private class NoTypes : ISignatureTypeProvider<TypeDefinitionHandle?, object?>
    {
        public TypeDefinitionHandle? GetArrayType(TypeDefinitionHandle? elementType, ArrayShape shape) => null;

        public TypeDefinitionHandle? GetByReferenceType(TypeDefinitionHandle? elementType) => null;

        public TypeDefinitionHandle? GetFunctionPointerType(MethodSignature<TypeDefinitionHandle?> signature) => null;

        public virtual TypeDefinitionHandle? GetGenericInstantiation(TypeDefinitionHandle? genericType,
            System.Collections.Immutable.ImmutableArray<TypeDefinitionHandle?> typeArguments) => null;

        public TypeDefinitionHandle? GetGenericMethodParameter(object? genericContext, int index) => null;

        public TypeDefinitionHandle? GetGenericTypeParameter(object? genericContext, int index) => null;

        public TypeDefinitionHandle? GetModifiedType(TypeDefinitionHandle? modifier, TypeDefinitionHandle? unmodifiedType, bool isRequired)
            => null;

        public TypeDefinitionHandle? GetPinnedType(TypeDefinitionHandle? elementType) => null;

        public TypeDefinitionHandle? GetPointerType(TypeDefinitionHandle? elementType) => null;

        public TypeDefinitionHandle? GetPrimitiveType(PrimitiveTypeCode typeCode) => null;

        public TypeDefinitionHandle? GetSZArrayType(TypeDefinitionHandle? elementType) => null;

        public TypeDefinitionHandle? GetTypeFromDefinition(MetadataReader reader, TypeDefinitionHandle handle, byte rawTypeKind) => handle;

        public TypeDefinitionHandle? GetTypeFromReference(MetadataReader reader, TypeReferenceHandle handle, byte rawTypeKind) => null;

        public TypeDefinitionHandle? GetTypeFromSpecification(MetadataReader reader, object? genericContext, TypeSpecificationHandle handle,
            byte rawTypeKind) => null;
    }

    /// <summary>Finds which type of this assembly a generic one is made of.</summary>
    private sealed class GenericDefinition : NoTypes
    {
        public override TypeDefinitionHandle? GetGenericInstantiation(TypeDefinitionHandle? genericType,
            System.Collections.Immutable.ImmutableArray<TypeDefinitionHandle?> typeArguments) => genericType;
    }
}
