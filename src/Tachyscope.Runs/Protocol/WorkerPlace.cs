namespace Tachyscope.Protocol;

/// <summary>Where in the user's code a worker is, as the file of its whereabouts says it.</summary>
#if STUDY_SIDE
internal
#else
public
#endif
enum WorkerPlace
{
    /// <summary>In none of it.</summary>
    Own,

    /// <summary>In an input's factory; the index is the input's.</summary>
    Input,

    /// <summary>In the operation of a cell of the open sitting; the index is the cell's.</summary>
    Cell,

    /// <summary>In the operation of a row whose answer is compared; the index is the row's.</summary>
    Row,

    /// <summary>In the project's <c>Main</c>, which a copy of its code runs again; the index is the copy's number.</summary>
    Copy,
}
