# frozen_string_literal: true

require "csv"

module Yenvo
  module Web
    # Tables that are brought in: given, read, looked at, written and taken back, by whoever gave them.
    class Imports < Base
      get("/?") { answer 200, {tables: present.imports(changes.of(person[:key]))} }

      post "/?" do
        may.make!(params["kind"])
        row = changes.add(params["kind"], params["name"], env["yenvo.stream"], cause:)
        answer 201, sheet(row)
      end

      get("/:id") { answer 200, sheet(mine!) }

      put "/:id" do
        mine!
        answer 200, sheet(changes.write(id, body_of_call))
      end

      post("/:id/look") { begin!("looking") }
      post("/:id/start") { begin!("running", rules: body_of_call["rules"]) }
      post("/:id/undo") { begin!("undoing") }

      post "/:id/stop" do
        mine!
        answer 200, sheet(changes.stop(id, now:))
      end

      # Its file and rows; what it wrote stands, and cannot be taken back any more.
      delete "/:id" do
        mine!
        answer 200, sheet(changes.forget!(id))
      end

      # What each rule would do with the first rows.
      get "/:id/rules" do
        rows, found = Engine::TableRules.new(root, now:).of(mine!, sight)
        answer 200, present.table_rules(rows, found)
      end

      get "/:id/refusals" do
        mine!
        found = changes.refusals(id).order(:id).limit(PAGE)
        found = found.where { Sequel[:id] > number_of("after") } if params["after"]
        answer 200, present.refusals(found.all, mine!)
      end
      PAGE = 50
      private_constant :PAGE

      # The rows that were refused, to be mended and brought in again: as they came, with what is wrong behind.
      get "/:id/refused" do
        row = mine!
        heads, = changes.sample(row)
        taken_out("took out the refused rows of the table “#{row[:name]}”", "import #{id}")
        stream_out("refused #{row[:name]}", TableOut::TYPE, refused(row, heads))
      end

      private

      def changes = root.imports
      def number_of(name) = params[name].to_i
      def sheet(row) = present.import_sheet(row)

      # @return [Hash] row of a table that whoever asks has given
      # @raise [Store::NotFound]
      def mine!
        changes.find!(id).tap do |row|
          raise Store::NotFound, "There is no such table." unless row[:by] == person[:key]
        end
      end

      def begin!(state, **more)
        row = mine!
        may.make!(row[:kind])
        answer 200, sheet(changes.begin(id, state, cause:, **more))
      end

      def refused(row, heads)
        TableOut.new([*heads, "Line", "What is wrong"]) do |after|
          rows = changes.refusals(row[:id]).where { Sequel[:id] > after.to_i }.order(:id).limit(500).all
          cells = rows.map { |one| present.refused_cells(one, heads.size, row) }
          [cells, (rows.last[:id] if rows.size == 500)]
        end
      end
    end
  end
end
