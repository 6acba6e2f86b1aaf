# frozen_string_literal: true

# Kits published and used, in few words, and what came of it.
module KitWords
  def self.included(group)
    group.class_eval do
      let(:launch) { publish_kit(Builders.launch_kit(target: "launch_date", queue: "yard_work")) }
      let(:deal) { make("deal", "launch_date" => "2027-01-18", "surveyor" => "ines")["id"] }
    end
  end

  def kit_of(plain) = Yenvo::Core::Kits::KitReader.read!(plain)

  def publish_kit(plain, row: nil)
    row ||= root.kits.make(kit_of(plain), cause: cause("maren"))
    root.kits.publish(row[:id], kit_of(plain), cause: cause("maren"))
    root.forget
    root.kits.find!(row[:id])
  end

  def use(row, record, **more) = root.copies.begin(root.kits.compiled(row[:version_id]), record, cause:, **more)
  def open_titles = db[:tasks].where(open: true).order(:id).select_map(:title)

  def finish(title, answer = nil, at: Database::NOW) =
    root.tasks.finish(db[:tasks].where(title:, open: true).get(:id), answer:, cause: cause(at:))
      .tap { work(at: at + 0.05) }

  def due(title) = db[:tasks].where(title:).order(:id).last[:due_on]&.iso8601
  def copy = db[:kit_copies].order(:id).last
  def history(record) = root.history.of_record(record).map { |entry| entry["what"] }
end
