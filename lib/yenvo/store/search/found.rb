# frozen_string_literal: true

module Yenvo
  module Store
    # One that a search has found. sort: one of Search::SORTS; id; title; kind and stage: keys; record: id of the record
    # that it is about, or nil; why: in words.
    Found = Core::Value.define(:sort, :id, :title, :kind, :stage, :record, :why)
  end
end
