# frozen_string_literal: true

# Tables that are brought in.
module TableWords
  # @return [Hash] row of a table that was given
  def a_table(text, kind: "contact", name: "owners.csv", who: "hollie", **map)
    row = root.imports.add(kind, name, StringIO.new(text.b), cause: cause(who))
    return row if map.empty?

    plain = JSON.parse(row[:plan])["map"].merge(map.transform_keys(&:to_s).except("empties"))
    root.imports.write(row[:id], {"map" => plain, "empties" => map[:empties] == true})
  end

  # Has it looked at, or written, or taken back, as the worker does.
  # @return [Hash] row
  def step(row, state, who: "hollie", at: Database::NOW, **more)
    root.imports.begin(row[:id], state, cause: cause(who, at:), **more)
    work_out_jobs(at)
    root.imports.find!(row[:id])
  end

  def work_out_jobs(at = Database::NOW)
    long = Yenvo::Engine::LongWork.new(root, log: SemanticLogger["spec"])
    nil while root.jobs.under_way? && long.take(now: at)
  end

  def look(row) = step(row, "looking")
  def bring_in(row, rules: false, **more) = step(look(row), "running", rules:, **more)
  def looked(row) = JSON.parse(row[:looked] || "{}")
  def written(row) = JSON.parse(row[:written] || "{}")
  def refused(row) = root.imports.refusals(row[:id]).order(:id).map { |one| [one[:line], JSON.parse(one[:problems])] }
  def contacts = root.db[:records].where(kind: "contact").order(:id)
end
